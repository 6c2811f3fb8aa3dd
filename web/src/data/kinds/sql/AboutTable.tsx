import { useEnvironment } from '../../../app/environment';
import { useTargetColumns } from '../../queries';
import type { TargetKind } from '../kind';
import { WriteMode } from './WriteMode';

/** The table and the database it is in, and what rows do to it. */
export const AboutTable: TargetKind['About'] = ({ target: { name, settings }, set }) => {
  const columns = useTargetColumns(name, useEnvironment());
  return (
    <>
      <span className="soft">
        table <span className="mono">{settings.table}</span> over {settings.connection}
      </span>
      <WriteMode
        mode={settings.mode}
        keys={settings.keys}
        columns={columns.data ?? []}
        set={(mode, keys) => set({ mode, keys })}
      />
    </>
  );
};
