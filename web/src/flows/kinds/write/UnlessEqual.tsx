import { useMutation } from '@tanstack/react-query';
import { App, Select, Switch } from 'antd';
import { api, seg } from '../../../api/client';
import type { Api, StepOf } from '../../../api/types';
import { plural } from '../../../common/format';
import { ErrorText } from '../../../common/ui';
import type { PanelProps } from '../kind';
import css from './WritePanel.module.css';

type Write = StepOf<'write'>;

interface Props extends Pick<PanelProps<Write>, 'step' | 'edit'> {
  /** Fields of the rows, as far as they are known. */
  names: string[];
  /** Of the target, which are likely those of the rows. */
  keys?: string[];
}

/** Rows that are as they were last written are left out, where that is wanted. */
export function UnlessEqual({ step, edit, names, keys = [] }: Props) {
  const by = step.unlessEqual;
  const set = (change?: Partial<NonNullable<typeof by>>) =>
    edit((s) => ({
      ...s,
      unlessEqual: change && { keys: [], ignoring: [], ...s.unlessEqual, ...change },
    }));
  const options = names.map((n) => ({ value: n, label: n }));
  return (
    <div className={`row wrap ${css.what}`}>
      <Switch size="small" id="unless-equal" checked={!!by} onChange={(on) => set(on ? { keys } : undefined)} />
      <label className="soft" htmlFor="unless-equal">
        only rows that are other than last time
      </label>
      {by && (
        <>
          <span className="soft">known by</span>
          <Select
            size="small"
            mode="tags"
            className={css.names}
            aria-label="fields that a row is known by"
            placeholder="the key"
            value={by.keys}
            onChange={(keys: string[]) => set({ keys })}
            options={options}
          />
          <span className="soft">not counting</span>
          <Select
            size="small"
            mode="tags"
            className={css.names}
            aria-label="fields that do not count"
            placeholder="nothing"
            value={by.ignoring}
            onChange={(ignoring: string[]) => set({ ignoring })}
            options={options.filter((o) => !by.keys.includes(o.value))}
          />
          {step.target && <Forget target={step.target} />}
        </>
      )}
    </div>
  );
}

function Forget({ target }: { target: string }) {
  const { message } = App.useApp();
  const forget = useMutation({
    mutationFn: () => api.post<Api<'Forgotten'>>(`/data/targets/${seg(target)}/forget`),
    onSuccess: ({ rows }) =>
      message.info(`${plural(rows, 'row')} of ${target} forgotten: the next run writes what it has.`),
  });
  return (
    <>
      <button
        className="link soft small"
        title="For a target that was emptied or changed by others"
        disabled={forget.isPending}
        onClick={() => forget.mutate()}
      >
        forget what was written
      </button>
      {forget.isError && <ErrorText error={forget.error} />}
    </>
  );
}
