import { Button, Select, Switch } from 'antd';
import type { Format } from '../../../api/types';
import { Suggest } from '../../../common/Suggest';
import type { SourceDraft } from '../kind';
import { DELIMITERS } from './delimiters';
import css from './FileSource.module.css';

const ENCODINGS = ['UTF-8', 'windows-1252', 'ISO-8859-1', 'ISO-8859-15', 'UTF-16'];

/** The file, and how its bytes are records (RFC 4180 leaves that open). */
export function FileSource({ settings, set, upload }: SourceDraft) {
  const format = settings.format;
  if (!format) return null;
  const change = (by: Partial<Format>) => set((s) => ({ ...s, format: { ...format, ...by } }));
  return (
    <div className="row wrap">
      <span className="mono">{settings.fileName}</span>
      <Button size="small" loading={upload.isPending} onClick={upload.choose}>
        Replace the file
      </Button>
      <span className="soft">delimiter</span>
      <Select
        size="small"
        aria-label="delimiter"
        className={css.delimiter}
        value={format.delimiter}
        onChange={(delimiter) => change({ delimiter })}
        options={DELIMITERS}
      />
      <span className="soft">encoding</span>
      <Suggest
        small
        label="encoding"
        width={130}
        value={format.encoding}
        onChange={(encoding) => change({ encoding })}
        options={ENCODINGS}
      />
      <span className="soft">first line has the names</span>
      <Switch size="small" aria-label="header" checked={format.header} onChange={(header) => change({ header })} />
    </div>
  );
}
