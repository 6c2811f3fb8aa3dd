export { Preview } from './Preview';
