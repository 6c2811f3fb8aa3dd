export type { Filling } from './filling';
export { useFilled } from './useFilled';
export { filledWords, lacking } from './rows';
export { fuzzy, ruleOf } from './values';
