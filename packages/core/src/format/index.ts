export { groupDigits, isCurrency, minorDigits, showByFormat } from './numbers';
export { formatByPattern } from './pattern';
export { readByPattern } from './readPattern';
