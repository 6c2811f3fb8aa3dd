export { DataPage } from './DataPage';
export { TargetMaker } from './TargetMaker';
