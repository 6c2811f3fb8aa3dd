import { Input, Segmented, Select } from 'antd';
import { Field } from '../../../common/Field';
import { DELIMITERS } from './delimiters';
import type { TargetMakerProps } from '../kind';
import css from './FileTarget.module.css';

/** The file's name, its delimiter, and whether a run adds to it. */
export const FileTarget = ({ wish, change }: TargetMakerProps) => (
  <>
    <Field label="File name" id="target-file">
      <Input
        id="target-file"
        className={`mono ${css.file}`}
        value={wish.file}
        onChange={(e) => change({ file: e.target.value })}
      />
    </Field>
    <div className="row">
      <Field label="Delimiter" id="target-delimiter">
        <Select
          id="target-delimiter"
          className={css.delimiter}
          value={wish.delimiter}
          onChange={(delimiter) => change({ delimiter })}
          options={DELIMITERS}
        />
      </Field>
      <Field label="What a run does with it">
        <Segmented
          value={wish.replace ? 'replace' : 'append'}
          onChange={(v) => change({ replace: v === 'replace' })}
          options={[
            { value: 'append', label: 'adds to it' },
            { value: 'replace', label: 'replaces it at the end' },
          ]}
        />
      </Field>
    </div>
  </>
);
