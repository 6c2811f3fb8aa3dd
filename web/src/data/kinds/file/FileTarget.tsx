import { Input, Segmented, Select } from 'antd';
import { Field } from '../../../common/Field';
import type { TargetMakerProps } from '../kind';
import { DELIMITERS } from './delimiters';
import css from './FileTarget.module.css';
import type { Written } from './targets';

/** The file's name, how it is written, and whether a run adds to it. */
export const FileTarget = ({ kind, wish, change }: TargetMakerProps & { kind: Written }) => (
  <>
    <Field label={kind === 'folder' ? 'Folder' : 'File name'} id="target-file">
      <Input
        id="target-file"
        className={`mono ${css.file}`}
        value={wish.file}
        onChange={(e) => change({ file: e.target.value })}
      />
      {kind !== 'folder' && (
        <div className="soft small">
          Of the run, in braces: <span className="mono">{'list_{$run/number}.csv'}</span>, or{' '}
          <span className="mono">{'{substring($run/started, 1, 10)}'}</span> for its day.
        </div>
      )}
    </Field>
    <div className="row wrap">
      {kind === 'csv' && (
        <Field label="Delimiter" id="target-delimiter">
          <Select
            id="target-delimiter"
            className={css.delimiter}
            value={wish.delimiter}
            onChange={(delimiter) => change({ delimiter })}
            options={DELIMITERS}
          />
        </Field>
      )}
      {kind === 'xml' && (
        <>
          <Field label="Outermost element" id="target-root">
            <Input
              id="target-root"
              className={`mono ${css.name}`}
              placeholder="records"
              value={wish.root ?? ''}
              onChange={(e) => change({ root: e.target.value })}
            />
          </Field>
          <Field label="Element of a row" id="target-row">
            <Input
              id="target-row"
              className={`mono ${css.name}`}
              placeholder="as it is called"
              value={wish.row ?? ''}
              onChange={(e) => change({ row: e.target.value })}
            />
          </Field>
        </>
      )}
      {kind === 'xlsx' && (
        <Field label="Sheet" id="target-sheet">
          <Input
            id="target-sheet"
            className={css.name}
            placeholder="Records"
            value={wish.sheet ?? ''}
            onChange={(e) => change({ sheet: e.target.value })}
          />
        </Field>
      )}
      <Field label={kind === 'folder' ? 'A file of that name that is there' : 'What a run does with it'}>
        <Segmented
          value={wish.replace ? 'replace' : 'append'}
          onChange={(v) => change({ replace: v === 'replace' })}
          options={[
            { value: 'append', label: kind === 'folder' ? 'stays; the record is set aside' : 'adds to it' },
            { value: 'replace', label: kind === 'folder' ? 'makes room' : 'replaces it at the end' },
          ]}
        />
      </Field>
    </div>
  </>
);
