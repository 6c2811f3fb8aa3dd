/** A fingerprint in groups of four bytes, as it is read aloud. */
export const grouped = (sha256: string) =>
  (sha256.match(/.{1,8}/g) ?? []).map((g) => (g.match(/../g) ?? []).join(' ')).join('  ');

/**
 * How far what somebody was told agrees with a fingerprint, byte by byte. Colons, blanks and case do not count.
 * Undefined while nothing was typed.
 */
export function agreement(sha256: string, told: string) {
  const hex = told
    .replace(/^.*[=\n]/s, '')
    .replace(/^\s*sha-?256\W*/i, '')
    .replace(/[^0-9a-f]/gi, '')
    .toUpperCase();
  if (!hex) return undefined;
  const bytes = sha256.match(/../g) ?? [];
  const given = hex.match(/.{1,2}/g) ?? [];
  const equal = given.filter((b, i) => b === bytes[i]).length;
  return { equal, of: bytes.length, isSame: equal === bytes.length && given.length === bytes.length };
}

const DAY = 86_400_000;
/** An end that is so near is told. */
export const SOON_DAYS = 30;

/** Whole days that a certificate still counts; negative when it has ended. */
export const daysLeft = (facts: { until: string }, now: number) =>
  Math.floor((new Date(facts.until).getTime() - now) / DAY);
