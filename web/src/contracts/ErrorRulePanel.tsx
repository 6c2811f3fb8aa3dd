import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { plural, when } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import css from './ErrorRulePanel.module.css';
import type { Rule } from './errorRule';

const FIELDS: { key: keyof Rule; label: string; hint: string }[] = [
  { key: 'failWhen', label: 'it failed when', hint: "status = 'ERROR'" },
  { key: 'reason', label: 'the reason', hint: 'message' },
  { key: 'code', label: 'its code', hint: 'errorCode' },
];

const pathOf = (contract: string, operation: string) => `/contracts/${seg(contract)}/operations/${seg(operation)}/rule`;

export const useErrorRule = (contract: string, operation: string) =>
  useQuery({
    queryKey: ['error-rule', contract, operation],
    queryFn: () => api.get<Rule>(pathOf(contract, operation)),
  });

interface Props {
  contract: string;
  operation: string;
  /** The one that counts; without a condition there is none. */
  rule: Rule;
  proposal?: Rule;
  close: () => void;
}

/** How an answer says that it failed: tried on the answers that are kept while it is typed. */
export function ErrorRulePanel({ contract, operation, rule, proposal, close }: Props) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState<Rule>(rule.failWhen ? rule : (proposal ?? {}));
  const path = pathOf(contract, operation);
  const onSuccess = async () => {
    await queries.invalidateQueries({ queryKey: ['error-rule', contract, operation] });
    close();
  };
  const keep = useMutation({ mutationFn: () => api.put(path, draft), onSuccess });
  const remove = useMutation({ mutationFn: () => api.delete(path), onSuccess });
  const tried = useQuery({
    queryKey: ['error-rule-tried', path, draft],
    enabled: !!draft.failWhen?.trim(),
    queryFn: ({ signal }) => api.post<Api<'Judged'>[]>(`${path}/try`, draft, signal),
    retry: false,
  });
  const failing = tried.data?.filter((t) => t.code) ?? [];
  return (
    <section className={css.panel} aria-label="error rule">
      <div className="row">
        <b>An answer that speaks of a failure</b>
        <span className="soft small">counts as one, here and in all flows</span>
      </div>
      <div className={css.fields}>
        {FIELDS.map(({ key, label, hint }) => (
          <label key={key} className={css.field}>
            <span className="soft small">{label}</span>
            <Input
              size="small"
              className="mono"
              aria-label={label}
              placeholder={hint}
              value={draft[key] ?? ''}
              onChange={(e) => setDraft((d) => ({ ...d, [key]: e.target.value || undefined }))}
            />
          </label>
        ))}
      </div>
      {tried.isError && draft.failWhen && <ErrorText error={tried.error} />}
      {tried.data && (
        <div className="small">
          <Status mood={failing.length ? 'warn' : 'ok'}>
            {failing.length} of {plural(tried.data.length, 'kept answer')} failed
          </Status>
          <ul className={css.tried}>
            {failing.slice(0, 4).map((t) => (
              <li key={t.id}>
                <span className="soft">{when(t.sentAt)}</span> <b>{t.code}</b> {t.reason}
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className="row">
        <Button
          size="small"
          type="primary"
          disabled={!draft.failWhen}
          loading={keep.isPending}
          onClick={() => keep.mutate()}
        >
          Keep the rule
        </Button>
        {rule.failWhen && (
          <Button size="small" type="text" loading={remove.isPending} onClick={() => remove.mutate()}>
            Remove it
          </Button>
        )}
        <Button size="small" type="text" onClick={close}>
          Close
        </Button>
      </div>
      {(keep.isError || remove.isError) && <ErrorText error={keep.error ?? remove.error} />}
    </section>
  );
}
