import { expect, it } from 'vitest';
import { curlOf } from './curl';

it('a call as a command line has its headers and its body, and keeps what is masked', () => {
  const line = curlOf({
    url: 'https://berths.example/bp?a=1&b=2',
    requestHeaders: [
      ['Content-Type', 'text/xml; charset=utf-8'],
      ['Authorization', '•••'],
      ['Content-Length', '12'],
    ],
    request: "<a>it's</a>",
  });
  expect(line).toBe(
    "curl 'https://berths.example/bp?a=1&b=2' \\\n  -H 'Content-Type: text/xml; charset=utf-8' \\\n" +
      "  -H 'Authorization: •••' \\\n  --data-binary '<a>it'\\''s</a>'",
  );
});
