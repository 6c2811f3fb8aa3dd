/** Parameters as a statement names them, with what is known of them. */
export function parametersOf<P extends { name: string }>(sql: string, known: (P | { name: string })[]) {
  const outside = sql.replace(/'(?:[^']|'')*'|"(?:[^"]|"")*"|--.*|::/g, ' ');
  const names = [...new Set([...outside.matchAll(/:([A-Za-z]\w*)/g)].map((m) => m[1]))];
  return names.map((name) => known.find((p) => p.name === name) ?? { name });
}
