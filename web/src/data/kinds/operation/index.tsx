import { Button } from 'antd';
import type { BeginProps, SourceKind } from '../kind';
import { OperationSource } from './OperationSource';
import { isReady, kept } from './rules';

const BeginOperation = ({ begin }: BeginProps) => (
  <p className="soft">
    Or ask a service:{' '}
    <Button size="small" onClick={() => begin({})}>
      the rows of an operation’s answer
    </Button>
  </p>
);

export const source: SourceKind = {
  kind: 'operation',
  word: 'operation',
  isReady,
  Begin: BeginOperation,
  Settings: OperationSource,
  kept,
};
