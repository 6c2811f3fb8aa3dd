/** A name that is not taken: itself, then with 2, 3 and so on. */
export function freeName(wanted: string, taken: string[], separator = ' '): string {
  if (!taken.includes(wanted)) return wanted;
  let n = 2;
  while (taken.includes(`${wanted}${separator}${n}`)) n++;
  return `${wanted}${separator}${n}`;
}
