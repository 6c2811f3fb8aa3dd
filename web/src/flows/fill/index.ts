export { FillTable } from './FillTable';
export type { Filling } from './filling';
export { useFill } from './queries';
export { filledWords, lacking } from './rows';
export { fuzzy, merged, ruleOf } from './values';
