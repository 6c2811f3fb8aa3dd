import { Segmented } from 'antd';
import { seg } from '../../../api/client';
import type { TargetKind } from '../kind';

/** The file's name, what runs do with it, and a way to have it. */
export const AboutFile: TargetKind['About'] = ({ target, set, isThere }) => (
  <>
    <span className="soft">
      {target.kind === 'folder' ? 'folder' : 'file'} <span className="mono">{target.settings.file}</span>
    </span>
    <Segmented
      size="small"
      value={target.settings.replace ? 'replace' : 'append'}
      onChange={(v) => set({ replace: v === 'replace' })}
      options={[
        { value: 'append', label: target.kind === 'folder' ? 'its files stay' : 'a run adds to it' },
        { value: 'replace', label: target.kind === 'folder' ? 'its files make room' : 'a run replaces it' },
      ]}
    />
    {isThere && target.kind !== 'folder' && (
      <a href={`/api/data/targets/${seg(target.name)}/file`} download>
        download
      </a>
    )}
  </>
);
