export { DataPage } from './DataPage';
export { dataKeys, useSourcePreview, useSources, useTargetColumns, useTargets } from './queries';
export { TargetMaker } from './TargetMaker';
export { SourcePicker } from './SourcePicker';
export { useShapes } from './shapes';
