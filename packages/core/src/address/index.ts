export { columnIndex, columnLetters, formatAddress, parseAddress } from './a1';
