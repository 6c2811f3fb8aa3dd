import { useId, type ReactNode } from 'react';
import type { FormField } from '../api/types';
import { begun, type ChosenFile, type Filled, type Problems, type Values } from './values';
import css from './RunPage.module.css';

interface Props {
  of: FormField;
  value: Filled | undefined;
  set: (to: Filled | undefined) => void;
  problems: Problems;
  /** Its path among those of problems. */
  path: string;
}

/** One field of a form, with what is inside of it. */
export function FieldOf({ of: f, value, set, problems, path }: Props) {
  if (f.kind === 'group') return <Group of={f} value={value} set={set} problems={problems} path={path} />;
  return <Single of={f} value={value} set={set} problem={problems[path]} />;
}

/** All fields of a form or a group, two beside each other where they are short. */
export function Fields({
  fields,
  values,
  set,
  problems,
  at = '',
}: {
  fields: FormField[];
  values: Values;
  set: (to: Values) => void;
  problems: Problems;
  at?: string;
}) {
  return (
    <div className={css.fields}>
      {fields.map((f) => (
        <FieldOf
          key={f.name}
          of={f}
          value={values[f.name]}
          set={(v) => set({ ...values, [f.name]: v })}
          problems={problems}
          path={at + f.name}
        />
      ))}
    </div>
  );
}

const SHORT = new Set(['number', 'integer', 'date', 'time', 'truth']);

function Single({
  of: f,
  value,
  set,
  problem,
}: {
  of: FormField;
  value: Filled | undefined;
  set: Props['set'];
  problem?: string;
}) {
  const id = useId();
  const help = helpOf(f);
  const told = [help ? `${id}-help` : '', problem ? `${id}-problem` : ''].filter((x) => x).join(' ');
  const common = {
    id,
    'aria-describedby': told || undefined,
    'aria-invalid': problem ? true : undefined,
    'aria-required': f.required || undefined,
  };
  return (
    <div className={`${css.field} ${SHORT.has(f.kind) && !f.many ? css.short : ''}`}>
      <label htmlFor={id}>
        {f.label}
        {f.unit && <span className="soft"> in {f.unit}</span>}
        {!f.required && <span className="faint"> · if you like</span>}
      </label>
      <Control of={f} value={value} set={set} common={common} />
      {help && (
        <span id={`${id}-help`} className={`soft ${css.help}`}>
          {help}
        </span>
      )}
      {problem && (
        <span id={`${id}-problem`} className={css.problem}>
          <span aria-hidden="true">■</span> {problem}
        </span>
      )}
    </div>
  );
}

function helpOf(f: FormField): string {
  const columns = f.kind === 'rows' ? `A table, CSV or XLSX, with the columns ${names(f.fields)}.` : '';
  const lines = f.many && !f.choices && f.kind !== 'rows' ? 'One a line.' : '';
  return [f.help, lines, columns].filter((x) => x).join(' ');
}

const names = (fields: FormField[] = []) => fields.map((x) => x.label + (x.required ? '' : ' (if there)')).join(', ');

interface Common {
  id: string;
  'aria-describedby'?: string;
  'aria-invalid'?: boolean;
  'aria-required'?: boolean;
}

function Control({
  of: f,
  value,
  set,
  common,
}: {
  of: FormField;
  value: Filled | undefined;
  set: Props['set'];
  common: Common;
}) {
  const text = typeof value === 'string' ? value : '';
  if (f.kind === 'file' || f.kind === 'rows')
    return <FileField of={f} value={value as ChosenFile | undefined} set={set} common={common} />;
  if (f.choices && f.many) return <Several of={f} value={(value as string[]) ?? []} set={set} common={common} />;
  if (f.choices || f.kind === 'truth')
    return (
      <select {...common} className={css.input} value={text} onChange={(e) => set(e.target.value)}>
        {(!f.required || text === '') && <option value="">{f.required ? 'choose' : ''}</option>}
        {(f.choices ?? TRUTHS).map((c) => (
          <option key={c.value} value={c.value}>
            {c.label ?? c.value}
          </option>
        ))}
      </select>
    );
  if (f.many || f.kind === 'lines' || f.kind === 'json')
    return (
      <textarea
        {...common}
        className={css.input}
        rows={4}
        placeholder={f.example}
        value={text}
        onChange={(e) => set(e.target.value)}
      />
    );
  return (
    <input
      {...common}
      className={`${css.input} num`}
      type={TYPES[f.kind] ?? 'text'}
      inputMode={f.kind === 'integer' ? 'numeric' : f.kind === 'number' ? 'decimal' : undefined}
      autoComplete="off"
      maxLength={f.length}
      placeholder={f.example}
      value={text}
      onChange={(e) => set(e.target.value)}
    />
  );
}

const TRUTHS = [
  { value: 'true', label: 'yes' },
  { value: 'false', label: 'no' },
];

const TYPES: Record<string, string> = { date: 'date', time: 'time', dateTime: 'datetime-local' };

function Several({ of: f, value, set, common }: { of: FormField; value: string[]; set: Props['set']; common: Common }) {
  return (
    <div {...common} role="group" aria-label={f.label} className={css.several}>
      {f.choices?.map((c) => (
        <label key={c.value} className={css.tick}>
          <input
            type="checkbox"
            checked={value.includes(c.value)}
            onChange={(e) => set(e.target.checked ? [...value, c.value] : value.filter((v) => v !== c.value))}
          />
          {c.label ?? c.value}
        </label>
      ))}
    </div>
  );
}

function FileField({
  of: f,
  value,
  set,
  common,
}: {
  of: FormField;
  value?: ChosenFile;
  set: Props['set'];
  common: Common;
}) {
  const choose = (file: File | undefined) => {
    if (!file) return set(undefined);
    const reader = new FileReader();
    reader.onload = () => set({ name: file.name, content: (reader.result as string).replace(/^[^,]*,/, '') });
    reader.readAsDataURL(file);
  };
  return (
    <div className={css.file}>
      <input
        {...common}
        className={css.input}
        type="file"
        accept={f.kind === 'rows' ? '.csv,.txt,.xlsx,.json,.jsonl' : undefined}
        onChange={(e) => choose(e.target.files?.[0])}
      />
      {value && <span className="soft">{value.name}</span>}
    </div>
  );
}

function Group({ of: f, value, set, problems, path }: Props) {
  const problem = problems[path];
  const frame = (inside: ReactNode) => (
    <fieldset className={css.group}>
      <legend>
        {f.label}
        {!f.required && <span className="faint"> · if you like</span>}
      </legend>
      {f.help && <p className={`soft ${css.help}`}>{f.help}</p>}
      {inside}
      {problem && (
        <span className={css.problem}>
          <span aria-hidden="true">■</span> {problem}
        </span>
      )}
    </fieldset>
  );
  const fields = f.fields ?? [];
  if (!f.many)
    return frame(
      <Fields fields={fields} values={(value as Values) ?? {}} set={set} problems={problems} at={`${path}/`} />,
    );
  const all = (value as Values[]) ?? [];
  return frame(
    <>
      {all.map((one, n) => (
        <div key={n} className={css.one}>
          <div className="row">
            <span className="soft num">{n + 1}</span>
            <span className="push" />
            <button type="button" className="link soft" onClick={() => set(all.filter((_, i) => i !== n))}>
              Remove {f.label} {n + 1}
            </button>
          </div>
          <Fields
            fields={fields}
            values={one}
            set={(to) => set(all.map((x, i) => (i === n ? to : x)))}
            problems={problems}
            at={`${path}/${n}/`}
          />
        </div>
      ))}
      <button type="button" className={css.plain} onClick={() => set([...all, begun(fields)])}>
        Add to {f.label}
      </button>
    </>,
  );
}
