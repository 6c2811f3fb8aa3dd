import { Select } from 'antd';
import { Link } from 'react-router';
import { useEnvironment } from '../../../app/environment';
import { Field } from '../../../common/Field';
import { useCertificates } from '../../queries';
import css from './Trusted.module.css';

interface Props {
  trust?: Record<string, string[]>;
  set: (trust: Record<string, string[]> | undefined) => void;
}

/** Whose certificates are believed beside the system's, in the environment that is chosen. */
export function Trusted({ trust, set }: Props) {
  const environment = useEnvironment();
  const known = useCertificates().data ?? [];
  const here = trust?.[environment] ?? [];
  if (!known.length && !here.length) return null;
  return (
    <Field label={`Trusted in ${environment}, beside the system’s authorities`} id="trusted">
      <Select
        id="trusted"
        mode="multiple"
        className={css.names}
        aria-label="trusted certificates"
        placeholder="nobody"
        value={here}
        onChange={(names: string[]) => set({ ...trust, [environment]: names })}
        options={known.map((c) => ({ value: c.name, label: c.name }))}
      />{' '}
      <Link className="soft small" to="/certificates">
        certificates
      </Link>
    </Field>
  );
}
