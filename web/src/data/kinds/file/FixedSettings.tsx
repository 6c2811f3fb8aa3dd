import { Button, Input, InputNumber } from 'antd';
import css from './FixedSettings.module.css';
import { Encoding, type FormatProps } from './FormatSettings';
import type { SourceSettings } from '../kind';

type Fixed = NonNullable<SourceSettings['fixed']>;
type Column = Fixed['columns'][number];

/** Where in a line each value stands. */
export function FixedSettings({ settings, set }: FormatProps) {
  const fixed = settings.fixed;
  if (!fixed) return null;
  const change = (by: Partial<Fixed>) => set((s) => ({ ...s, fixed: { ...fixed, ...by } }));
  const column = (at: number, by: Partial<Column>) =>
    change({ columns: fixed.columns.map((c, i) => (i === at ? { ...c, ...by } : c)) });
  const last = fixed.columns[fixed.columns.length - 1];
  return (
    <>
      <Encoding value={fixed.encoding} set={(encoding) => change({ encoding })} />
      <span className="soft">lines skipped at first</span>
      <InputNumber
        size="small"
        aria-label="lines skipped"
        min={0}
        value={fixed.skippedLines}
        onChange={(n) => change({ skippedLines: n ?? 0 })}
      />
      <div className={css.columns}>
        {fixed.columns.map((c, i) => (
          <span key={i} className={`row ${css.column}`}>
            <Input
              size="small"
              aria-label={`name of column ${i + 1}`}
              value={c.name}
              onChange={(e) => column(i, { name: e.target.value })}
            />
            <InputNumber
              size="small"
              aria-label={`place of column ${i + 1}`}
              min={1}
              value={c.from}
              onChange={(n) => column(i, { from: n ?? 1 })}
            />
            <InputNumber
              size="small"
              aria-label={`length of column ${i + 1}`}
              min={1}
              value={c.length}
              onChange={(n) => column(i, { length: n ?? 1 })}
            />
            <Button
              size="small"
              type="text"
              aria-label={`remove column ${i + 1}`}
              disabled={fixed.columns.length === 1}
              onClick={() => change({ columns: fixed.columns.filter((_, at) => at !== i) })}
            >
              ×
            </Button>
          </span>
        ))}
        <Button
          size="small"
          onClick={() =>
            change({
              columns: [
                ...fixed.columns,
                { name: `column ${fixed.columns.length + 1}`, from: last ? last.from + last.length : 1, length: 10 },
              ],
            })
          }
        >
          Add a column
        </Button>
        <span className="faint small">name, first place, length</span>
      </div>
    </>
  );
}
