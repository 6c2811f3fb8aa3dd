const WHOLE = new Intl.NumberFormat('en-GB');
export const count = (n?: number | null) => (n == null ? '–' : WHOLE.format(n));
export const plural = (n: number, one: string, many = `${one}s`) => `${count(n)} ${n === 1 ? one : many}`;
export const millis = (ms?: number | null) =>
  ms == null ? '–' : ms < 10 ? `${ms.toFixed(1)} ms` : ms < 1000 ? `${Math.round(ms)} ms` : duration(ms);

export function duration(ms: number): string {
  const s = ms / 1000;
  if (s < 60) return `${s < 10 ? s.toFixed(1) : Math.round(s)} s`;
  const m = Math.floor(s / 60);
  return m < 60 ? `${m} min ${Math.round(s % 60)} s` : `${Math.floor(m / 60)} h ${m % 60} min`;
}

export function when(iso?: string | null): string {
  if (!iso) return '–';
  const d = new Date(iso);
  const today = new Date().toDateString() === d.toDateString();
  const time = d.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });
  return today
    ? `today ${time}`
    : `${d.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })} ${time.slice(0, 5)}`;
}

/** The local names of the elements that begin in a line of XML, and of their attributes; of JSON its member. */
export const namesIn = (line: string): string[] =>
  [...line.matchAll(/<(?:[\w.-]+:)?([\w.-]+)|\s(?:[\w.-]+:)?([\w.-]+)\s*=\s*["']|^\s*"([^"]+)"\s*:/g)].map(
    (m) => m[1] ?? m[2] ?? m[3],
  );
