import { Button, Input } from 'antd';
import { Fragment, useState } from 'react';
import { isLive } from '../app/environment';
import { columns } from '../common/place';
import type { Group, Row } from './cells/cell';
import { kindNamed } from './kinds';
import { apart, changed, inEnvironment, isApart, isUsed, together, type Edited } from './settings';
import { NowRow } from './NowRow';
import css from './SettingsTable.module.css';
import type { ConnectionDraft } from './useConnectionDraft';

/** Rows of settings by columns of environments; what is not used is only named below. */
export function SettingsTable({ d, isKept }: { d: ConnectionDraft; isKept: boolean }) {
  const [opened, setOpened] = useState<string[]>([]);
  const { groups } = kindNamed(d.kind);
  const all = d.edited.environments;
  const fits = (r: Row) => !r.when || all.some((e) => r.when?.(inEnvironment(d.edited, e.name)));
  const isOpen = (r: Row) => fits(r) && (r.always || isUsed(d.edited, r.keys) || opened.includes(r.id));
  const unused = groups.flatMap((g) => g.rows).filter((r) => fits(r) && !isOpen(r));
  return (
    <div className={css.table} style={columns(all.length)}>
      <Heads d={d} isKept={isKept} />
      {groups.map((g) => (
        <GroupRows key={g.title} d={d} group={g} rows={g.rows.filter(isOpen)} />
      ))}
      {isKept && d.kind === 'soap' && <NowRow d={d} />}
      {unused.length > 0 && (
        <p className={css.unused}>
          <b className="soft">Not used:</b>{' '}
          {unused.map((r, i) => (
            <Fragment key={r.id}>
              {i > 0 && ', '}
              <button className="link" onClick={() => setOpened((o) => [...o, r.id])}>
                {r.word ?? labelOf(d, r)}
              </button>
            </Fragment>
          ))}
        </p>
      )}
    </div>
  );
}

/** The environments, each with its probe. One in earnest is reversed, above a hatched band. */
function Heads({ d, isKept }: { d: ConnectionDraft; isKept: boolean }) {
  const { environments } = d.edited;
  const put = (at: number, name: string) =>
    d.edit((e) => ({ ...e, environments: e.environments.map((x, i) => (i === at ? { ...x, name } : x)) }));
  const removed = (at: number) => d.edit((e) => ({ ...e, environments: e.environments.filter((_, i) => i !== at) }));
  return (
    <div className={`${css.row} ${css.heads}`}>
      <span className={css.label}>environment</span>
      {environments.map((e, i) => (
        <span key={i} className={`${css.environment} ${isLive(e.name) ? css.live : ''}`}>
          <Input
            variant="borderless"
            className={css.name}
            aria-label={`environment ${i + 1}`}
            placeholder="its name"
            value={e.name}
            onChange={(x) => put(i, x.target.value)}
          />
          {isKept && e.name && (
            <Button
              size="small"
              ghost={isLive(e.name)}
              disabled={d.isChanged}
              title={d.isChanged ? 'Keep the changes first' : undefined}
              loading={d.probe.isPending && d.probe.variables === e.name}
              onClick={() => d.probe.mutate(e.name)}
            >
              Probe {e.name}
            </Button>
          )}
          {environments.length > 1 && (
            <button className="link small" aria-label={`remove ${e.name}`} onClick={() => removed(i)}>
              remove
            </button>
          )}
        </span>
      ))}
    </div>
  );
}

function GroupRows({ d, group, rows }: { d: ConnectionDraft; group: Group; rows: Row[] }) {
  if (!rows.length) return null;
  return (
    <>
      <h2 className={css.group}>
        {group.title} {group.hint && <span className={css.hint}>{group.hint}</span>}
      </h2>
      {rows.map((r) => (
        <SettingRow key={r.id} d={d} row={r} />
      ))}
    </>
  );
}

const labelOf = (d: ConnectionDraft, r: Row) =>
  typeof r.label === 'string' ? r.label : r.label(inEnvironment(d.edited, d.environment));

const word = (e: Edited) => (e.environments.length === 2 ? 'both' : 'all');

/** One setting: for all environments at once, or side by side. */
function SettingRow({ d, row }: { d: ConnectionDraft; row: Row }) {
  const { edited, edit } = d;
  const isSplit = row.isApart ?? isApart(edited, row.keys);
  const several = edited.environments.length > 1;
  const { Cell } = row;
  return (
    <div className={css.row}>
      <span className={css.label}>
        {labelOf(d, row)}
        {isSplit && !row.isApart && several && (
          <button
            className="link faint small"
            title={`as in ${edited.environments[0].name}, everywhere`}
            onClick={() => edit((e) => together(e, row.keys))}
          >
            one for {word(edited)}
          </button>
        )}
      </span>
      {isSplit ? (
        edited.environments.map((e, i) => (
          <span key={i} className={`${css.cell} ${isLive(e.name) ? css.inEarnest : ''}`}>
            {(!row.when || row.when(inEnvironment(edited, e.name))) && (
              <Cell
                settings={inEnvironment(edited, e.name)}
                set={(change) => edit((x) => changed(x, i, change))}
                of={`-${e.name}`}
                secrets={d.secrets}
              />
            )}
          </span>
        ))
      ) : (
        <span className={`${css.cell} ${css.shared}`}>
          <Cell
            settings={edited.common}
            set={(change) => edit((x) => changed(x, undefined, change))}
            of=""
            secrets={d.secrets}
          />
          {several && (
            <button
              className={`link faint small ${css.apart}`}
              title="Each environment gets a value of its own"
              aria-label={`${labelOf(d, row)} for ${word(edited)}: take apart`}
              onClick={() => edit((e) => apart(e, row.keys))}
            >
              {word(edited)}
            </button>
          )}
        </span>
      )}
    </div>
  );
}
