import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Input } from 'antd';
import { api, seg } from '../api/client';
import type { Api, BenchAnswer } from '../api/types';
import css from './XPathLine.module.css';

export function XPathLine({
  contract,
  answer: a,
  of,
  xpath,
  setXpath,
}: {
  contract: string;
  answer: BenchAnswer;
  /** The operation, where only that says how its answer is read. */
  of?: { port: string; operation: string };
  xpath: string;
  setXpath: (x: string) => void;
}) {
  const result = useQuery({
    queryKey: ['xpath', a.answer, xpath],
    enabled: xpath.trim() !== '',
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      api.post<Api<'XPathResult'>>(
        `/contracts/${seg(contract)}/bench/xpath`,
        { answer: a.answer, xpath, as: of && { ...of, status: a.status, headers: a.answerHeaders } },
        signal,
      ),
  });
  const r = xpath.trim() ? result.data : undefined;
  return (
    <div className={css.inset3}>
      <Input
        size="small"
        className="mono"
        aria-label="XPath over the answer"
        placeholder="XPath over the answer, or click a name below"
        value={xpath}
        onChange={(e) => setXpath(e.target.value)}
        status={r?.problem ? 'error' : undefined}
        suffix={
          r && !r.problem ? (
            <span className={`soft ${css.note}`}>
              {r.count} found{r.count ? `: ${(r.values ?? []).join(', ')}` : ''}
            </span>
          ) : (
            <span />
          )
        }
      />
      {Object.keys(a.prefixes ?? {}).length > 0 && (
        <div
          className="faint small cut"
          title={Object.entries(a.prefixes)
            .map(([p, n]) => `${p} = ${n}`)
            .join('\n')}
        >
          names without a prefix match in any namespace; ready:{' '}
          {Object.keys(a.prefixes)
            .map((p) => `${p}:`)
            .join(' ')}
        </div>
      )}
      {r?.problem && <div className="small wrong">{r.problem}</div>}
    </div>
  );
}
