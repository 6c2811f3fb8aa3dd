export { AboutBox } from './AboutBox';
export { Labels, LabelFilter } from './Labels';
export { fitsLabels, useAbout, type AboutKind } from './queries';
export { Mark } from './Mark';
