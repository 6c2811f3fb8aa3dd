/** The first line of a request of plain HTTP. */
export const REQUEST = /^[A-Z]{2,20} \/\S*/;

/** A message laid out for reading: XML, JSON, or a request with a body of these. What is neither stays as it is. */
export function pretty(text: string): string {
  if (REQUEST.test(text)) {
    const body = /\r?\n\r?\n/.exec(text);
    const at = body ? body.index + body[0].length : text.length;
    return text.slice(0, at) + pretty(text.slice(at));
  }
  return /^\s*</.test(text) ? ofXml(text) : /^\s*[{[]/.test(text) ? ofJson(text) : text;
}

const TOKEN = /"(?:[^"\\]|\\.)*"|[{}[\],:]|[^\s{}[\],:"]+|\S/g;

/** JSON with two blanks a level. Only white space changes: a number stays as it was written. */
function ofJson(json: string): string {
  const out: string[] = [];
  let depth = 0;
  const tokens = json.match(TOKEN) ?? [];
  tokens.forEach((t, i) => {
    const before = tokens[i - 1];
    const closes = t === '}' || t === ']';
    if (closes) depth = Math.max(0, depth - 1);
    const isEmpty = closes && (before === '{' || before === '[');
    if (!isEmpty && (closes || before === ',' || before === '{' || before === '[')) out.push(`\n${'  '.repeat(depth)}`);
    out.push(t === ':' ? ': ' : t);
    if (t === '{' || t === '[') depth++;
  });
  return out.join('');
}

/** XML with two blanks a level. */
function ofXml(xml: string): string {
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
