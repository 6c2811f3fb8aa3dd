export { runKeys, useRuns } from './queries';
export { RunList } from './RunList';
export { RunPage } from './RunPage';
export { RunState } from './RunState';
export { useRun } from './useRun';
