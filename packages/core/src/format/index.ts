export { groupDigits, isCurrency, minorDigits, type NumberFormat, showByFormat } from './numbers';
export { formatByPattern } from './pattern';
export { readByPattern } from './readPattern';
