export { FlowList } from './FlowList';
export { FlowPage } from './FlowPage';
export { Outline } from './Outline';
export { flowKeys, useFlows } from './queries';
export { MakeFlowPage } from './make/MakeFlowPage';
export { requestOf } from './kinds/request';
export { allSteps } from './tree';
export { seen } from './outlineRows';
