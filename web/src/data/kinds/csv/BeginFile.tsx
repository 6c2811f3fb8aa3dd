import type { SourceKind } from '../kind';

/** A place to drop a file on. */
export const BeginFile: SourceKind['Begin'] = ({ choose, over }) => (
  <div className={`drop ${over ? 'over' : ''}`}>
    Drop a delimited file here, or{' '}
    <button className="link" onClick={choose}>
      choose one
    </button>
    . Its delimiter, encoding and header are recognised.
  </div>
);
