import type { TargetKind } from '../kind';

/** The table and the database it is in. */
export const AboutTable: TargetKind['About'] = ({ target: { settings } }) => (
  <span className="soft">
    table <span className="mono">{settings.table}</span> over {settings.connection}
  </span>
);
