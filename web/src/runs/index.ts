export { RunList } from './RunList';
export { RunPage } from './RunPage';
