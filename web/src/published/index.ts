export { PublishedPage } from './PublishedPage';
