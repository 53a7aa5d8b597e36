export { groupDigits, isCurrency, minorDigits, showByFormat, type NumberFormat } from './numbers';
export { formatByPattern } from './pattern';
export { readByPattern } from './readPattern';
