import { Input, InputNumber } from 'antd';
import type { FolderTrigger } from '../api/types';
import { Field } from '../common/Field';
import { Paces } from './Parts';
import css from './EndpointFields.module.css';

interface Props {
  folder: FolderTrigger;
  by: (change: Partial<FolderTrigger>) => void;
  /** Where it is on the server; not known before it is published. */
  path?: string;
}

/** The folder whose files are taken. */
export const FromFolder = ({ folder, by, path }: Props) => (
  <>
    <div className={css.pair}>
      <Field label="Takes files of the folder" id="folder-folder">
        <Input
          id="folder-folder"
          className="mono"
          value={folder.folder}
          onChange={(e) => by({ folder: e.target.value })}
        />
      </Field>
      <Field label="Named like" id="folder-pattern">
        <Input
          id="folder-pattern"
          className="mono"
          placeholder="*.xml"
          value={folder.pattern ?? '*'}
          onChange={(e) => by({ pattern: e.target.value })}
        />
      </Field>
    </div>
    {path && (
      <p className={`soft small ${css.else}`}>
        On the server: <span className="mono">{path}</span>. Done, a file is in <span className="mono">done</span>{' '}
        there, with its reply beside it; otherwise in <span className="mono">failed</span>, with why.
      </p>
    )}
    <Paces of={folder} by={by} most={16} usual={{ atATime: 2, attempts: 1 }} />
    <Field label="Taken once it has not changed for, in seconds" id="folder-quiet">
      <InputNumber
        id="folder-quiet"
        min={0}
        max={3_600}
        value={folder.quietSeconds ?? 2}
        onChange={(n) => by({ quietSeconds: n ?? undefined })}
      />
    </Field>
  </>
);
