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

/** XML laid out with two blanks a level; what is not XML stays as it is. */
export function pretty(xml: string): string {
  if (!xml.trimStart().startsWith('<')) return xml;
  const parts = xml
    .replace(/>\s+</g, '><')
    .split(/(<[^>]+>)/)
    .filter((p) => p !== '');
  const out: string[] = [];
  let depth = 0;
  for (let i = 0; i < parts.length; i++) {
    const p = parts[i];
    if (p.startsWith('</')) {
      depth = Math.max(0, depth - 1);
      out.push('  '.repeat(depth) + p);
    } else if (p.startsWith('<') && !p.startsWith('<?') && !p.startsWith('<!') && !p.endsWith('/>')) {
      const text = parts[i + 1];
      if (text !== undefined && !text.startsWith('<') && parts[i + 2]?.startsWith('</')) {
        out.push('  '.repeat(depth) + p + text + parts[i + 2]);
        i += 2;
      } else if (text?.startsWith('</')) {
        out.push('  '.repeat(depth) + p + text);
        i += 1;
      } else {
        out.push('  '.repeat(depth) + p);
        depth++;
      }
    } else {
      out.push('  '.repeat(depth) + p);
    }
  }
  return out.join('\n');
}

/** The local names of the elements that begin in a line of XML, and of their attributes. */
export const namesIn = (line: string): string[] =>
  [...line.matchAll(/<(?:[\w.-]+:)?([\w.-]+)|\s(?:[\w.-]+:)?([\w.-]+)\s*=\s*["']/g)].map((m) => m[1] ?? m[2]);
