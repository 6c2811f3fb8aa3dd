import type { BenchAnswer } from '../api/types';

const quoted = (s: string) => `'${s.replaceAll("'", `'\\''`)}'`;

/** The call as a command line; what is masked stays masked. */
export const curlOf = (a: Pick<BenchAnswer, 'url' | 'requestHeaders' | 'request'>) =>
  [
    `curl ${quoted(a.url)}`,
    ...a.requestHeaders
      .filter(([name]) => !/^(content-length|host|connection|accept-encoding|transfer-encoding)$/i.test(name))
      .map(([name, value]) => `-H ${quoted(`${name}: ${value}`)}`),
    `--data-binary ${quoted(a.request)}`,
  ].join(' \\\n  ');

/** The answer as a file, as it came. */
export function save(a: Pick<BenchAnswer, 'answer' | 'answerHeaders'>) {
  const type = a.answerHeaders.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ?? 'text/xml';
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([a.answer], { type }));
  link.download = `answer.${/json/.test(type) ? 'json' : /html/.test(type) ? 'html' : 'xml'}`;
  link.click();
  URL.revokeObjectURL(link.href);
}
