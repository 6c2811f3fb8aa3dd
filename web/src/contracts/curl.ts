import type { BenchAnswer } from '../api/types';
import { REQUEST } from '../common/layout';

const quoted = (s: string) => `'${s.replaceAll("'", `'\\''`)}'`;

/** The call as a command line; what is masked stays masked. */
export const curlOf = (a: Pick<BenchAnswer, 'url' | 'requestHeaders' | 'request'>) => {
  const isPlain = REQUEST.test(a.request);
  const at = isPlain ? /\r?\n\r?\n/.exec(a.request) : null;
  const body = isPlain ? (at ? a.request.slice(at.index + at[0].length) : '') : a.request;
  return [
    `curl ${isPlain ? `-X ${a.request.slice(0, a.request.indexOf(' '))} ` : ''}${quoted(a.url)}`,
    ...a.requestHeaders
      .filter(([name]) => !/^(content-length|host|connection|accept-encoding|transfer-encoding)$/i.test(name))
      .map(([name, value]) => `-H ${quoted(`${name}: ${value}`)}`),
    ...(body ? [`--data-binary ${quoted(body)}`] : []),
  ].join(' \\\n  ');
};

/** The answer as a file, as it came. */
export function save(a: Pick<BenchAnswer, 'answer' | 'answerHeaders'>) {
  const type = a.answerHeaders.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ?? 'text/xml';
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([a.answer], { type }));
  link.download = `answer.${/json/.test(type) ? 'json' : /html/.test(type) ? 'html' : 'xml'}`;
  link.click();
  URL.revokeObjectURL(link.href);
}
