export { formatByPattern } from './pattern';
