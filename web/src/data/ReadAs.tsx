import { Button, Select } from 'antd';
import type { Api } from '../api/types';
import type { RecordColumn } from '../common/columns';
import { Suggest } from '../common/Suggest';
import type { SourceSettings } from './kinds';
import css from './ReadAs.module.css';

type Type = Api<'ReadAs'>;

const TYPES: Record<string, string[]> = {
  string: [],
  integer: [],
  decimal: ['0,0', '0.000,0', '0.0', '0,000.0'],
  boolean: ['yes/no', 'ja/nein', 'Y/N', '1/0'],
  date: ['dd.MM.yyyy', 'dd/MM/yyyy', 'MM/dd/yyyy', 'yyyyMMdd'],
  dateTime: ['dd.MM.yyyy HH:mm', 'yyyy-MM-dd HH:mm', 'dd/MM/yyyy HH:mm'],
};

interface Props {
  column: RecordColumn;
  types?: Type[];
  isGrouped: boolean;
  set: (change: (s: SourceSettings) => SourceSettings) => void;
  showOdd: (numbers: string) => void;
}

/** What a column's values are read as: then records have them in the standard form, and the others are set aside. */
export function ReadAs({ column, types = [], isGrouped, set, showOdd }: Props) {
  const f = column.field;
  // Types are said of rows, which stand inside when several make a record.
  const path = isGrouped && column.path[0] === 'row' ? column.path.slice(1) : column.path;
  const field = path.join('/');
  const now = types.find((t) => t.field === field);
  const change = (to: Type | undefined) =>
    set((s) => {
      const others = s.types?.filter((t) => t.field !== field) ?? [];
      const all = to ? [...others, to] : others;
      return { ...s, types: all.length > 0 ? all : undefined };
    });
  if (f.type === 'nested') return null;
  const odd = f.seen?.disagreeing ?? [];
  return (
    <>
      {odd.length > 0 && (
        <button className="link" onClick={() => showOdd([...new Set(odd.map((d) => d.record))].join(','))}>
          show {odd.length === 1 ? 'this record' : `these ${odd.length} records`}
        </button>
      )}
      <div className="row">
        <span className="soft">read as</span>
        <Select
          size="small"
          aria-label={`${field} is read as`}
          className={css.type}
          value={now?.type ?? ''}
          onChange={(type) =>
            change(type ? { field, type, pattern: type === f.type ? (f.pattern ?? undefined) : undefined } : undefined)
          }
          options={[
            { value: '', label: 'it stands there' },
            ...Object.keys(TYPES).map((t) => ({ value: t, label: t === 'string' ? 'text' : t })),
          ]}
        />
        {now && TYPES[now.type]?.length > 0 && (
          <Suggest
            small
            mono
            label={`pattern of ${field}`}
            width={150}
            placeholder="as the standard has it"
            value={now.pattern ?? ''}
            onChange={(pattern) => change({ ...now, pattern: pattern || undefined })}
            options={TYPES[now.type]}
          />
        )}
        {!now && f.pattern && (
          <Button size="small" onClick={() => change({ field, type: f.type, pattern: f.pattern ?? undefined })}>
            {f.type} as {f.pattern}
          </Button>
        )}
      </div>
      {now && (
        <div className="soft small">Values are in the standard form then; records that do not fit are set aside.</div>
      )}
    </>
  );
}
