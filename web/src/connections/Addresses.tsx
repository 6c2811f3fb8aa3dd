import { Button, Input } from 'antd';
import { Field } from '../common/Field';
import css from './Addresses.module.css';

interface Props {
  label: string;
  hint: string;
  /** Environments with their addresses, in order. */
  urls: [string, string][];
  set: (urls: [string, string][]) => void;
}

/** One address for each environment. */
export function Addresses({ label, hint, urls, set }: Props) {
  const put = (at: number, to: [string, string]) => set(urls.map((u, i) => (i === at ? to : u)));
  return (
    <Field label={label}>
      {urls.map(([environment, url], i) => (
        <div key={i} className={`row ${css.row}`}>
          <Input
            className={css.environment}
            aria-label={`environment ${i + 1}`}
            value={environment}
            onChange={(e) => put(i, [e.target.value, url])}
          />
          <Input
            className="mono"
            aria-label={`address for ${environment}`}
            placeholder={hint}
            value={url}
            onChange={(e) => put(i, [environment, e.target.value])}
          />
          <Button
            type="text"
            size="small"
            aria-label={`remove ${environment}`}
            onClick={() => set(urls.filter((_, j) => j !== i))}
          >
            remove
          </Button>
        </div>
      ))}
      <button className="link soft small" onClick={() => set([...urls, ['', '']])}>
        add an environment
      </button>
    </Field>
  );
}
