import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { api, seg } from '../api/client';
import type { ContractView, Problem } from '../api/types';
import { plural } from '../common/format';
import { ErrorText, Status, type Mood } from '../common/ui';
import { uploaded } from './files';
import css from './ReadingNotes.module.css';

const MOODS: Record<Problem['severity'], [Mood, string]> = {
  ERROR: ['bad', 'error'],
  WARNING: ['warn', 'warning'],
  INFO: ['idle', 'remark'],
};

const ORDER: Problem['severity'][] = ['ERROR', 'WARNING', 'INFO'];

/** What was wrong in the description, where, and what was assumed; files it lacks can be added here. */
export function ReadingNotes({
  contract: c,
  onLine,
}: {
  contract: ContractView;
  onLine: (line: number, document: string) => void;
}) {
  const queries = useQueryClient();
  const chooser = useRef<HTMLInputElement>(null);
  const add = useMutation({
    mutationFn: async (list: File[]) => api.post(`/contracts/${seg(c.name)}/files`, { files: await uploaded(list) }),
    onSuccess: () => queries.invalidateQueries(),
  });
  const missing = c.notes.filter((n) => n.code === 'wsdl.missing' || n.code === 'schema.missing');
  return (
    <>
      <div className={`row ${css.bar}`}>
        <h2>Reading notes</h2>
        {c.notes.length === 0 && <Status mood="ok">nothing had to be repaired</Status>}
        {missing.length > 0 && (
          <span className="push row">
            <button className="link" onClick={() => chooser.current?.click()}>
              add the missing {missing.length === 1 ? 'file' : 'files'}
            </button>
            <input
              ref={chooser}
              type="file"
              multiple
              hidden
              aria-label="missing files"
              onChange={(e) => {
                const list = [...(e.target.files ?? [])];
                e.target.value = '';
                if (list.length) add.mutate(list);
              }}
            />
          </span>
        )}
      </div>
      {add.isError && (
        <div className={css.inset}>
          <ErrorText title="Nothing was added." error={add.error} />
        </div>
      )}
      {c.notes.length > 0 && (
        <table className="grid">
          <thead>
            <tr>
              <th className={css.cell}>severity</th>
              <th className={css.cell2}>where</th>
              <th>what is wrong</th>
              <th className={css.cell3}>what was assumed</th>
              <th className={css.cell4}>clause</th>
            </tr>
          </thead>
          <tbody>
            {[...c.notes]
              .sort((x, y) => ORDER.indexOf(x.severity) - ORDER.indexOf(y.severity))
              .map((n, i) => (
                <tr key={i}>
                  <td>
                    <Status mood={MOODS[n.severity][0]}>{MOODS[n.severity][1]}</Status>
                  </td>
                  <td className="nowrap">
                    <Where place={n.place} onLine={onLine} />
                  </td>
                  <td className="breaks">{n.text}</td>
                  <td className="soft">
                    {n.assumed}
                    {n.affectsMessages && n.severity !== 'ERROR' && (
                      <div className="small">
                        <span
                          className="st warn"
                          title="Messages built from it may differ from what the service expects"
                        >
                          may affect messages
                        </span>
                      </div>
                    )}
                  </td>
                  <td className="faint small">{n.section}</td>
                </tr>
              ))}
          </tbody>
        </table>
      )}
      {c.notes.length > 0 && (
        <div className={`faint small ${css.inset2}`}>
          {plural(c.documents.length, 'file')} read; copies of all are kept.
        </div>
      )}
    </>
  );
}

const shortName = (document?: string) => document?.split('/').pop() ?? '';

function Where({ place, onLine }: { place: Problem['place']; onLine: (line: number, document: string) => void }) {
  const { document, line, column } = place ?? { line: 0, column: 0 };
  if (!document || !line) return <span className="soft">{shortName(document)}</span>;
  return (
    <button
      className="link soft"
      title={`${document}, line ${line}, column ${column}`}
      onClick={() => onLine(line, document)}
    >
      {shortName(document)} : {line}
    </button>
  );
}
