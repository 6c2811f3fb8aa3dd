import { Select } from 'antd';
import { Link } from 'react-router';
import { seg } from '../../../api/client';
import type { Column, Field, StepOf, TargetView, TriedColumn } from '../../../api/types';
import { plural } from '../../../common/format';
import { Panel } from '../../../common/Panel';
import { ErrorText, Status } from '../../../common/ui';
import { TargetMaker, useTargetColumns, useTargets } from '../../../data';
import { PanelHead } from '../../PanelHead';
import { usePickTrial, useWritten } from '../../queries';
import { before, nearest } from '../../where';
import type { PanelProps } from '../kind';
import { asSeen, flattened, pickOf, rowsOf, seenOf, tooLong, type Rows } from './rows';
import { HeaderMismatch } from './HeaderMismatch';
import { UnlessEqual } from './UnlessEqual';
import css from './WritePanel.module.css';

type Write = StepOf<'write'>;

/** Where results go, which column gets which field, and making a target when there is none. */
export function WritePanel({ step, edit, remove, where, flowName, problem }: PanelProps<Write>) {
  const targets = useTargets();
  const columns = useTargetColumns(step.target, where.environment);
  const known = rowsOf(before(where));
  const from = known.find((r) => step.from === `$${r.name}`);
  const ofFrom = step.from === RAW ? RAW_COLUMNS : (from?.columns ?? []);
  const written = step.columns?.length ? step.columns : ofFrom;
  const nested = useWritten(step, where).data;
  const fields: Field[] = written.length > 0 ? written.map(fieldOf) : (nested ?? []);
  const picked = pickOf(before(where), step.from);
  const trial = usePickTrial(picked?.step, { ...where, step: picked?.step.id ?? where.step }).data;
  const seen = seenOf(trial, picked?.at);
  const target = targets.data?.find((t) => t.name === step.target);
  const choose = (name?: string) => edit((s) => ({ ...s, target: name }));
  return (
    <Panel
      head={
        <PanelHead title="Write" remove={remove}>
          <Select
            aria-label="target"
            className={css.target}
            placeholder="choose a target"
            value={step.target}
            allowClear
            onChange={choose}
            options={targets.data?.map((t) => ({ value: t.name, label: t.name }))}
          />
          {target && <About target={target} />}
        </PanelHead>
      }
      bar={
        <>
          <What step={step} edit={edit} known={known} hasCall={!!nearest(where, 'call')} />
          {step.target && (
            <UnlessEqual step={step} edit={edit} names={fields.map((f) => f.name)} keys={target?.settings.keys} />
          )}
          {columns.isError && (
            <div className={css.inset}>
              <ErrorText error={columns.error} />
            </div>
          )}
          {problem && target && HAVE_HEADERS.includes(target.kind) && (
            <HeaderMismatch target={target} problem={problem} />
          )}
        </>
      }
    >
      {step.target ? (
        columns.data && <Gets columns={columns.data} fields={fields} seen={seen} />
      ) : (
        <Make
          fields={asSeen(fields, seen)}
          flatten={() => edit((s) => ({ ...s, columns: flattened(fields) }))}
          flowName={flowName}
          onMade={choose}
        />
      )}
    </Panel>
  );
}

const fieldOf = (c: Column): Field => ({ name: c.name, label: c.name, type: c.type ?? 'string', required: false });

/** Kinds of files whose columns may be others than those that are written. */
const HAVE_HEADERS = ['csv', 'xlsx'];

const RECORD = '';
/** The latest answer's text. */
const RAW = '$raw';
const RAW_COLUMNS = [{ name: 'text', xpath: '.', type: 'string' }];

/** What is written: rows that a step before left behind, or the record itself. */
type WhatProps = Pick<PanelProps<Write>, 'step' | 'edit'> & { known: Rows[]; hasCall: boolean };

function What({ step, edit, known, hasCall }: WhatProps) {
  const options = [
    ...known.map((r) => ({ value: `$${r.name}`, label: `each row of $${r.name}` })),
    { value: RECORD, label: 'the record itself' },
    ...(hasCall ? [{ value: RAW, label: 'the answer as it came' }] : []),
  ];
  const value = step.from ?? RECORD;
  const isTyped = !options.some((o) => o.value === value);
  return (
    <div className={`row ${css.what}`}>
      <span className="soft">writes</span>
      <Select
        size="small"
        aria-label="what is written"
        className={css.target}
        value={value}
        onChange={(to) => edit((s) => ({ ...s, from: to || undefined }))}
        options={isTyped ? [...options, { value, label: `each of ${value}` }] : options}
      />
    </div>
  );
}

const About = ({ target }: { target: TargetView }) => (
  <span className="soft cut">
    {target.kind === 'sql' ? (
      <>
        table <span className="mono">{target.settings.table}</span>
      </>
    ) : (
      <>
        {target.kind === 'folder' ? 'folder' : 'file'} <span className="mono">{target.settings.file}</span>,{' '}
        {aboutFile(target)}
      </>
    )}{' '}
    <Link to={`/data/targets/${seg(target.name)}`}>open it</Link>
  </span>
);

function aboutFile({ kind, settings }: TargetView) {
  if (kind === 'folder') return 'a file for each row';
  return settings.replace ? 'replaced at the end of a run' : 'added to';
}

/** Which column gets what; a field that has no column is said. */
function Gets({ columns, fields, seen }: { columns: Field[]; fields: Field[]; seen: TriedColumn[] }) {
  const lost = fields.filter((f) => columns.length > 0 && !columns.some((c) => c.label === f.label));
  if (columns.length === 0)
    return (
      <p className={`soft ${css.inset}`}>
        The file takes the fields as they are: <span className="mono">{fields.map((f) => f.label).join(', ')}</span>.
      </p>
    );
  return (
    <>
      {lost.length > 0 && (
        <div className={css.lost}>
          <Status mood="warn">
            {lost.map((f) => f.label).join(', ')} {lost.length === 1 ? 'has' : 'have'} no column in the target and{' '}
            {lost.length === 1 ? 'is' : 'are'} not written
          </Status>
        </div>
      )}
      <table className="grid">
        <thead>
          <tr>
            <th>column of the target</th>
            <th>type</th>
            <th>gets</th>
          </tr>
        </thead>
        <tbody>
          {columns.map((c) => (
            <tr key={c.name}>
              <td className="mono">{c.label}</td>
              <td className="soft">
                {c.type === 'string' ? 'text' : c.type}
                {c.length !== undefined && ` of ${c.length}`}
                {c.required ? ', required' : ''}
              </td>
              <td>
                <Given column={c} field={fields.find((f) => f.label === c.label)} any={fields.length > 0} />
                <TooLong column={c} seen={seen.find((s) => s.name === c.label)} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Given({ column, field, any }: { column: Field; field?: Field; any: boolean }) {
  if (field)
    return (
      <Status mood="ok">
        <span className="mono">{field.label}</span>
      </Status>
    );
  if (!any) return <span className="soft">by name</span>;
  return column.required ? (
    <Status mood="bad">nothing, but it is required</Status>
  ) : (
    <span className="soft">nothing</span>
  );
}

/** What of the answers seen the column would refuse. */
function TooLong({ column, seen }: { column: Field; seen?: TriedColumn }) {
  const n = tooLong(seen, column.length);
  if (!seen || n === 0) return null;
  return (
    <div className="small">
      <Status mood="warn">
        {n} of {seen.values} values seen {n === 1 ? 'is' : 'are'} longer than {column.length}, up to {seen.longest}
      </Status>
    </div>
  );
}

interface MakeProps {
  fields: Field[];
  flatten: () => void;
  flowName: string;
  onMade: (name: string) => void;
}

function Make({ fields, flatten, flowName, onMade }: MakeProps) {
  const names = fields.map((f) => f.label).join(', ');
  return (
    <div className={css.make}>
      <h2>Make the target from this</h2>
      {fields.length === 0 ? (
        <p className="soft">Pick fields first, or choose what is written; the target is then made from it.</p>
      ) : (
        <>
          <p className="soft">
            {plural(fields.length, 'column')}: <span className="mono">{names}</span>
          </p>
          <TargetMaker
            fields={fields}
            flatten={flatten}
            suggestedName={flowName.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '_')}
            onMade={onMade}
          />
        </>
      )}
    </div>
  );
}
