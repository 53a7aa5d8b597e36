export { columnIndex, columnLetters } from './a1';
