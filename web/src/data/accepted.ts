/** Files that sources are made of, for the browser's dialog. */
export const ACCEPTED = '.csv,.txt,.tsv,.dat,.json,.jsonl,.ndjson,.xml,.xlsx,text/*,application/json';
