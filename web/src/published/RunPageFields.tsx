import { Button, Checkbox, Input, Select } from 'antd';
import { Fragment } from 'react';
import type { Input as FlowInput, PageForm, PageTrigger } from '../api/types';
import { Field } from '../common/Field';
import { typeWords } from './endpoint';
import {
  canBeFile,
  canBeLines,
  choicesOf,
  choicesText,
  columnOf,
  fieldOf,
  inputPaths,
  replyPaths,
  withColumn,
  withField,
} from './page';
import css from './RunPageFields.module.css';

interface Props {
  page: PageTrigger;
  set: (to: PageTrigger) => void;
}

const Words = ({
  label,
  id,
  value,
  set,
  placeholder,
}: {
  label: string;
  id: string;
  value?: string;
  set: (to?: string) => void;
  placeholder?: string;
}) => (
  <Field label={label} id={id}>
    <Input id={id} value={value ?? ''} placeholder={placeholder} onChange={(e) => set(e.target.value || undefined)} />
  </Field>
);

/** Where a page is, and what it says before anything is asked. */
export function PageHead({ page, set }: Props) {
  const by = (change: Partial<PageTrigger>) => set({ ...page, ...change });
  return (
    <>
      <div className={css.pair}>
        <Field label="Page" id="page-page">
          <Input
            id="page-page"
            className="mono"
            addonBefore="/pages/"
            value={page.page}
            onChange={(e) => by({ page: e.target.value })}
          />
        </Field>
        <Field label="Title" id="page-title">
          <Input id="page-title" value={page.title} onChange={(e) => by({ title: e.target.value })} />
        </Field>
      </div>
      <Field label="What they should know before" id="page-text">
        <Input.TextArea
          id="page-text"
          autoSize={{ minRows: 1, maxRows: 4 }}
          value={page.text ?? ''}
          onChange={(e) => by({ text: e.target.value || undefined })}
        />
      </Field>
      <div className={css.pair}>
        <Words label="Whose page it is" id="page-owner" value={page.owner} set={(owner) => by({ owner })} />
        <Words label="Whom it is for" id="page-readers" value={page.readers} set={(readers) => by({ readers })} />
        <Words label="On the button" id="page-deed" value={page.deed} placeholder="Ask" set={(deed) => by({ deed })} />
        <Words label="Whom to ask" id="page-contact" value={page.contact} set={(contact) => by({ contact })} />
      </div>
    </>
  );
}

const AS = { usual: 'as it is', LINES: 'lines', FILE: 'a file', HIDDEN: 'not asked' };

/** How each input is asked for. */
export function PageInputs({ page, set, inputs }: Props & { inputs: FlowInput[] }) {
  return (
    <div>
      <span className="field-label">What is asked: inputs of the flow</span>
      <div className={css.table}>
        <table className="grid fixed">
          <colgroup>
            <col />
            <col className={css.words} />
            <col className={css.unit} />
            <col className={css.as} />
            <col className={css.unit} />
          </colgroup>
          <thead>
            <tr>
              <th>input</th>
              <th>called</th>
              <th>unit</th>
              <th>asked</th>
              <th>at first</th>
            </tr>
          </thead>
          <tbody>
            {inputPaths(inputs).map(({ path, input }) => (
              <InputRow key={path} page={page} set={set} path={path} input={input} />
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function InputRow({ page, set, path, input: i }: Props & { path: string; input: FlowInput }) {
  const f = fieldOf(page, path);
  const by = (change: Parameters<typeof withField>[2]) => set(withField(page, path, change));
  const isInside = path.includes('/');
  const ways = [
    { value: 'usual', label: AS.usual },
    ...(canBeLines(i) ? [{ value: 'LINES', label: AS.LINES }] : []),
    ...(canBeFile(path, i) ? [{ value: 'FILE', label: AS.FILE }] : []),
    ...(isInside ? [] : [{ value: 'HIDDEN', label: AS.HIDDEN }]),
  ];
  return (
    <>
      <tr>
        <td>
          <span className="mono">{path}</span>
          <div className="faint small">
            {i.fields ? (i.many ? 'a list' : 'a group') : typeWords(i)}
            {i.required ? ', required' : ''}
          </div>
        </td>
        <td>
          <Input
            size="small"
            aria-label={`${path} is called`}
            placeholder={i.name}
            value={f.label ?? ''}
            onChange={(e) => by({ label: e.target.value || undefined })}
          />
        </td>
        <td>
          {!i.fields && (
            <Input
              size="small"
              aria-label={`unit of ${path}`}
              value={f.unit ?? ''}
              onChange={(e) => by({ unit: e.target.value || undefined })}
            />
          )}
        </td>
        <td>
          {ways.length > 1 && (
            <Select
              size="small"
              aria-label={`how ${path} is asked`}
              className={css.wide}
              value={f.as ?? 'usual'}
              onChange={(as: string) => by({ as: as === 'usual' ? undefined : (as as typeof f.as) })}
              options={ways}
            />
          )}
        </td>
        <td>
          {!i.fields && !i.many && f.as !== 'FILE' && (
            <Input
              size="small"
              className="mono"
              aria-label={`${path} at first`}
              value={f.value ?? ''}
              onChange={(e) => by({ value: e.target.value || undefined })}
            />
          )}
        </td>
      </tr>
      {i.choices && f.as !== 'HIDDEN' && (
        <tr>
          <td className="soft small">words for its values</td>
          <td colSpan={4}>
            <Input.TextArea
              className="mono"
              aria-label={`words for values of ${path}`}
              autoSize={{ minRows: 1, maxRows: 6 }}
              placeholder={`${i.choices[0]} = what it is called, a line each`}
              defaultValue={choicesText(f)}
              onBlur={(e) => by({ choices: choicesOf(e.target.value) })}
            />
          </td>
        </tr>
      )}
    </>
  );
}

const SHOWN = [
  { value: 'usual', label: 'shown' },
  { value: 'FILE', label: 'to be saved' },
  { value: 'HIDDEN', label: 'not shown' },
];

/** What is shown of an answer, and what is said with it. */
export function PageAnswers({ page, set, form }: Props & { form?: PageForm }) {
  const result = page.result ?? {};
  const by = (change: Partial<typeof result>) => set({ ...page, result: { ...result, ...change } });
  return (
    <>
      <div className={css.pair}>
        <Words
          label="Above the answer"
          id="page-done"
          value={result.title}
          placeholder="{count(record)} berths"
          set={(title) => by({ title })}
        />
        <Words label="Below that" id="page-done-text" value={result.text} set={(text) => by({ text })} />
      </div>
      <div>
        <span className="field-label">What is shown of the reply</span>
        <div className={css.table}>
          <table className="grid fixed">
            <colgroup>
              <col />
              <col className={css.words} />
              <col className={css.unit} />
              <col className={css.as} />
            </colgroup>
            <tbody>
              {replyPaths(page, form?.shown).map((path) => {
                const c = columnOf(page, path);
                const to = (change: Partial<typeof c>) => set(withColumn(page, path, change));
                return (
                  <tr key={path}>
                    <td className="mono cut">{path}</td>
                    <td>
                      <Input
                        size="small"
                        aria-label={`${path} is called there`}
                        placeholder={path.split('/').at(-1)}
                        value={c.label ?? ''}
                        onChange={(e) => to({ label: e.target.value || undefined })}
                      />
                    </td>
                    <td>
                      <Input
                        size="small"
                        aria-label={`unit of ${path} there`}
                        value={c.unit ?? ''}
                        onChange={(e) => to({ unit: e.target.value || undefined })}
                      />
                    </td>
                    <td>
                      <Select
                        size="small"
                        aria-label={`how ${path} is shown`}
                        className={css.wide}
                        value={c.as ?? 'usual'}
                        onChange={(as: string) => to({ as: as === 'usual' ? undefined : (as as typeof c.as) })}
                        options={SHOWN}
                      />
                    </td>
                  </tr>
                );
              })}
              {form && replyPaths(page, form.shown).length === 0 && (
                <tr>
                  <td colSpan={4} className="soft">
                    The flow replies nothing: the page says that it is done.
                  </td>
                </tr>
              )}
            </tbody>
          </table>
        </div>
      </div>
      <Notes notes={result.notes ?? []} set={(notes) => by({ notes })} />
    </>
  );
}

type Note = NonNullable<NonNullable<PageTrigger['result']>['notes']>[number];

/** What is said beside an answer where something holds. */
const Notes = ({ notes, set }: { notes: Note[]; set: (to: Note[]) => void }) => (
  <Rows
    label="Notes, where something holds of the reply"
    what="note"
    rows={notes.map((n) => [n.when, n.title, n.text ?? ''])}
    heads={['exists(record[late])', 'what is said', 'more of it']}
    set={(rows) => set(rows.map(([when, title, text]) => ({ when, title, text: text || undefined })))}
  />
);

/** What is said of failures. */
export function PageFailures({ page, set }: Props) {
  const all = page.failures ?? [];
  return (
    <Rows
      label="What is said when it fails"
      what="failure"
      rows={all.map((f) => [(f.codes ?? []).join(', '), f.title, f.text ?? ''])}
      heads={['fault UnknownPort; empty for all', 'what has happened', 'what to do']}
      set={(rows) =>
        set({
          ...page,
          failures: rows.map(([codes, title, text]) => ({
            codes: codes
              .split(',')
              .map((c) => c.trimStart())
              .filter((c) => c),
            title,
            text: text || undefined,
          })),
        })
      }
    />
  );
}

/** A few texts a row. */
function Rows({
  label,
  what,
  rows,
  heads,
  set,
}: {
  label: string;
  what: string;
  rows: string[][];
  heads: string[];
  set: (to: string[][]) => void;
}) {
  return (
    <div>
      <span className="field-label">{label}</span>
      {rows.map((row, n) => (
        <div key={n} className={css.texts}>
          {heads.map((head, c) => (
            <Fragment key={head}>
              <Input
                size="small"
                className={c === 0 ? `mono ${css.when}` : undefined}
                aria-label={`${what} ${n + 1}: ${head}`}
                placeholder={head}
                value={row[c]}
                onChange={(e) =>
                  set(rows.map((r, i) => (i === n ? r.map((x, k) => (k === c ? e.target.value : x)) : r)))
                }
              />
              {c === 0 && (
                <button
                  className="link soft"
                  aria-label={`remove ${what} ${n + 1}`}
                  onClick={() => set(rows.filter((_, i) => i !== n))}
                >
                  ×
                </button>
              )}
            </Fragment>
          ))}
        </div>
      ))}
      <Button size="small" onClick={() => set([...rows, heads.map(() => '')])}>
        Add a {what}
      </Button>
    </div>
  );
}

/** Who may use it besides those with a link. */
export function PageReaders({ page, set }: Props) {
  const isForAll = page.accounts === undefined;
  return (
    <Field label="Who may use it, besides those with a link">
      <div className={css.who}>
        <Checkbox checked={!!page.open} onChange={(e) => set({ ...page, open: e.target.checked || undefined })}>
          anybody who reaches this server
        </Checkbox>
        <Checkbox checked={isForAll} onChange={(e) => set({ ...page, accounts: e.target.checked ? undefined : [] })}>
          all who are logged in, guests too
        </Checkbox>
        {!isForAll && (
          <Select
            mode="tags"
            aria-label="accounts that may use it"
            className={css.wide}
            placeholder="accounts that may; none: only those with a link"
            value={page.accounts}
            onChange={(accounts: string[]) => set({ ...page, accounts })}
            tokenSeparators={[',', ' ']}
          />
        )}
      </div>
    </Field>
  );
}
