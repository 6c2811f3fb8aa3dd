import { AutoComplete, Checkbox, Input, Select, Switch } from 'antd';
import type { Api, Format } from '../../../api/types';
import { plural } from '../../../common/format';
import { Suggest } from '../../../common/Suggest';
import { DELIMITERS } from './delimiters';
import type { SourceDraft, SourceSettings } from '../kind';
import css from './FileSource.module.css';

export interface FormatProps extends Pick<SourceDraft, 'settings' | 'set'> {
  sheets: string[];
}

export const ENCODINGS = ['UTF-8', 'windows-1252', 'ISO-8859-1', 'ISO-8859-15', 'UTF-16'];

/** How bytes are characters. */
export const Encoding = ({ value, set }: { value?: string; set: (to: string) => void }) => (
  <>
    <span className="soft">encoding</span>
    <Suggest small label="encoding" width={130} value={value} onChange={set} options={ENCODINGS} />
  </>
);

/** How a delimited file's lines are records: RFC 4180 leaves that open. */
export function CsvSettings({ settings, set }: FormatProps) {
  const format = settings.format;
  if (!format) return null;
  const change = (by: Partial<Format>) => set((s) => ({ ...s, format: { ...format, ...by } }));
  return (
    <>
      <span className="soft">delimiter</span>
      <Select
        size="small"
        aria-label="delimiter"
        className={css.delimiter}
        value={format.delimiter}
        onChange={(delimiter) => change({ delimiter })}
        options={DELIMITERS}
      />
      <Encoding value={format.encoding} set={(encoding) => change({ encoding })} />
      <span className="soft">first line has the names</span>
      <Switch size="small" aria-label="header" checked={format.header} onChange={(header) => change({ header })} />
      <Checkbox checked={!!format.shortLines} onChange={(e) => change({ shortLines: e.target.checked || undefined })}>
        take lines with fewer values
      </Checkbox>
    </>
  );
}

export const LinesSettings = ({ settings, set }: FormatProps) => (
  <Encoding value={settings.encoding} set={(encoding) => set((s) => ({ ...s, encoding }))} />
);

/** Which sheet, which cells of it. */
export function SheetSettings({ settings, set, sheets }: FormatProps) {
  const sheet = settings.sheet;
  if (!sheet) return null;
  const change = (by: Partial<NonNullable<SourceSettings['sheet']>>) =>
    set((s) => ({ ...s, sheet: { ...sheet, ...by } }));
  return (
    <>
      <span className="soft">sheet</span>
      <AutoComplete
        size="small"
        aria-label="sheet"
        className={css.sheet}
        placeholder="the first"
        value={sheet.sheet}
        onChange={(to: string) => change({ sheet: to || undefined })}
        options={sheets.map((value) => ({ value }))}
      />
      <span className="soft">cells</span>
      <Input
        size="small"
        aria-label="range of cells"
        className={`mono ${css.range}`}
        placeholder="all"
        value={sheet.range ?? ''}
        onChange={(e) => change({ range: e.target.value || undefined })}
      />
      <span className="soft">first row has the names</span>
      <Switch size="small" aria-label="header" checked={sheet.header} onChange={(header) => change({ header })} />
    </>
  );
}

interface NestedProps extends Pick<SourceDraft, 'settings' | 'set'> {
  places: Api<'RecordPlace'>[];
}

/** Where in a nested file its records are. */
export const NestedSettings = ({ settings, set, places }: NestedProps) => (
  <>
    <span className="soft">records at</span>
    <AutoComplete
      size="small"
      aria-label="records at"
      className={`mono ${css.path}`}
      placeholder="the whole file"
      value={settings.path}
      onChange={(path: string) => set((s) => ({ ...s, path }))}
      options={[
        { value: '', label: <span className="soft">the whole file</span> },
        ...places.map((p) => ({
          value: p.path,
          label: (
            <span>
              <span className="mono">{p.path}</span> <span className="faint">{plural(p.records, 'record')}</span>
            </span>
          ),
        })),
      ]}
    />
    <span className="faint small">* for any name, // in front for anywhere</span>
  </>
);
