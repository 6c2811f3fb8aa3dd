import { Input } from 'antd';
import { isLive } from '../app/environment';
import { Field } from '../common/Field';
import { Status } from '../common/ui';

interface Props {
  id: string;
  value: string;
  set: (to: string) => void;
}

/** Where a flow that is published makes its calls. */
export const EnvironmentField = ({ id, value, set }: Props) => (
  <Field label="In the environment" id={id}>
    <Input id={id} value={value} onChange={(e) => set(e.target.value)} />
    {isLive(value) && <Status mood="warn">its calls are in earnest</Status>}
  </Field>
);
