import type { Api } from '../../api/types';

/** A sample that was given: a text, or an uploaded file of rows. */
export type Sample = Api<'SampleText'>;

/** Whether a file's text is read here; what has rows is read by the server. */
export const isText = (name: string) => /\.(json|jsonl|ndjson|xml|xsd)$/i.test(name);

/** A name for a shape, from that of a file. */
export const shapeName = (file: string) => file.replace(/\.\w+$/, '').replace(/[^\p{L}\p{N}_.-]+/gu, '_');

/** What the samples are called in the list: names twice get numbers. */
export function withSample(all: Sample[], s: Sample): Sample[] {
  const taken = new Set(all.map((x) => x.name));
  let name = s.name;
  for (let n = 2; taken.has(name); n++) name = `${s.name} ${n}`;
  return [...all, { ...s, name }];
}
