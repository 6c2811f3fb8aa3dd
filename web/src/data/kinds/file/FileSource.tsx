import { useQuery } from '@tanstack/react-query';
import { Button, Input, InputNumber, Segmented, Select } from 'antd';
import { api, seg } from '../../../api/client';
import type { Api } from '../../../api/types';
import type { SourceDraft } from '../kind';
import css from './FileSource.module.css';
import { FixedSettings } from './FixedSettings';
import { CsvSettings, LinesSettings, NestedSettings, SheetSettings } from './FormatSettings';
import { FORMATS, rowFields, unitOf, usual, withUnit, type Unit } from './rules';

/** What the server says of an uploaded file. */
function useStored(file: string | undefined, name: string | undefined) {
  return useQuery({
    queryKey: ['stored-file', file],
    enabled: !!file,
    staleTime: Infinity,
    queryFn: () => api.get<Api<'StoredFile'>>(`/data/files/${file}?name=${seg(name ?? 'file')}`),
  }).data;
}

/** The file, how its bytes are records, and what one record is. */
export function FileSource(d: SourceDraft) {
  const { kind, setKind, settings, set, upload } = d;
  const stored = useStored(settings.file, settings.fileName);
  const Format = { csv: CsvSettings, fixed: FixedSettings, jsonl: LinesSettings, xlsx: SheetSettings }[kind];
  return (
    <>
      <div className="row wrap">
        {settings.files !== undefined ? (
          <Input
            size="small"
            aria-label="pattern of names"
            className={`mono ${css.pattern}`}
            value={settings.files}
            onChange={(e) => set((s) => ({ ...s, files: e.target.value }))}
          />
        ) : (
          <>
            <span className="mono">{settings.fileName}</span>
            <Button size="small" loading={upload.isPending} onClick={upload.choose}>
              Replace the file
            </Button>
          </>
        )}
        <Select
          size="small"
          aria-label="format"
          className={css.format}
          value={kind}
          onChange={(to) => setKind(to, usual(to, settings))}
          options={Object.entries(FORMATS).map(([value, label]) => ({ value, label }))}
        />
        {Format ? (
          <Format settings={settings} set={set} sheets={stored?.sheets ?? []} />
        ) : (
          <NestedSettings settings={settings} set={set} places={stored?.places ?? []} />
        )}
      </div>
      <UnitOfRecords {...d} />
    </>
  );
}

const UNITS = [
  { value: 'row' as const, label: 'each' },
  { value: 'count' as const, label: 'several together' },
  { value: 'key' as const, label: 'adjacent ones with the same …' },
];

/** What one record is: each row or node, so many together, or those that belong together. */
function UnitOfRecords({ settings, set, fields }: SourceDraft) {
  const unit = unitOf(settings);
  return (
    <div className={`row wrap ${css.line}`}>
      <span className="soft">one record is</span>
      <Segmented<Unit>
        size="small"
        aria-label="one record is"
        value={unit}
        options={UNITS}
        onChange={(to) => set((s) => withUnit(s, to, rowFields(s, fields)))}
      />
      {unit === 'count' && (
        <InputNumber
          size="small"
          aria-label="rows together"
          min={1}
          max={10_000}
          value={settings.group?.count}
          onChange={(count) => set((s) => ({ ...s, group: { count: count ?? 1, keys: [] } }))}
        />
      )}
      {unit === 'key' && (
        <Select
          size="small"
          mode="multiple"
          aria-label="key"
          className={css.keys}
          value={settings.group?.keys}
          onChange={(keys) => keys.length > 0 && set((s) => ({ ...s, group: { count: 0, keys } }))}
          options={rowFields(settings, fields)
            .filter((f) => !f.fields)
            .map((f) => ({ value: f.name, label: f.label }))}
        />
      )}
      {unit !== 'row' && (
        <span className="soft small">
          the rows are <span className="mono">row</span> inside of it
        </span>
      )}
    </div>
  );
}
