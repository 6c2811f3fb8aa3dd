/** Lines compared one by one at most; longer stretches that differ count as different throughout. */
const MAX_COMPARED = 4_000_000;

/** The numbers of the lines that another text does not have at that place: the longest common lines are the same. */
export function otherLines(now: string[], before: string[]): Set<number> {
  let from = 0;
  while (from < now.length && from < before.length && now[from] === before[from]) from++;
  let to = now.length;
  let end = before.length;
  while (to > from && end > from && now[to - 1] === before[end - 1]) {
    to--;
    end--;
  }
  const [n, m] = [to - from, end - from];
  const out = new Set<number>();
  for (let i = from; i < to; i++) out.add(i);
  if (n * m === 0 || n * m > MAX_COMPARED) return out;
  // How many lines are in common from here on.
  const common = Array.from({ length: n + 1 }, () => new Uint32Array(m + 1));
  for (let i = n - 1; i >= 0; i--)
    for (let j = m - 1; j >= 0; j--)
      common[i][j] =
        now[from + i] === before[from + j] ? common[i + 1][j + 1] + 1 : Math.max(common[i + 1][j], common[i][j + 1]);
  for (let i = 0, j = 0; i < n && j < m;) {
    if (now[from + i] === before[from + j]) {
      out.delete(from + i++);
      j++;
    } else if (common[i + 1][j] >= common[i][j + 1]) i++;
    else j++;
  }
  return out;
}
