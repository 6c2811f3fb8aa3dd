export { FlowList } from './FlowList';
export { FlowPage } from './FlowPage';
export { Outline } from './Outline';
