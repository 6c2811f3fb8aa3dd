const UNITS: [string, number][] = [
  ['h', 3_600_000],
  ['min', 60_000],
  ['s', 1_000],
  ['ms', 1],
];

/** A length of time as people write it, in the largest unit that leaves no rest: `30 s`, `5 min`. */
export const inWords = (millis: number) => {
  const [unit, size] = UNITS.find(([, u]) => millis >= u && millis % u === 0) ?? UNITS[3];
  return `${millis / size} ${unit}`;
};

/** Milliseconds of what was typed; without a unit they are seconds. Undefined when it is no length of time. */
export const millisOf = (typed: string): number | undefined => {
  const m = /^\s*(\d+(?:[.,]\d+)?)\s*(ms|s|sec|min|m|h)?\s*$/i.exec(typed);
  if (!m) return undefined;
  const unit = { sec: 's', m: 'min' }[(m[2] ?? 's').toLowerCase()] ?? (m[2] ?? 's').toLowerCase();
  const size = UNITS.find(([u]) => u === unit)?.[1] ?? 1000;
  return Math.round(Number(m[1].replace(',', '.')) * size);
};
