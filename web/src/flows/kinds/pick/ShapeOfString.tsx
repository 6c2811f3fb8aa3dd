import { Select } from 'antd';
import { useShapes } from '../../../data';
import css from './Answer.module.css';

interface Props {
  kind: 'XML' | 'JSON';
  value?: string;
  set: (shape: string | undefined) => void;
}

const ANY = '';

/** What a string is: any document, its fields known from the answers, or one of a shape, which it then has to fit. */
export function ShapeOfString({ kind, value, set }: Props) {
  const fitting = (useShapes().data ?? []).filter((s) => (s.kind === 'xsd') === (kind === 'XML'));
  if (fitting.length === 0 && !value) return null;
  return (
    <div className={`row small ${css.shape}`}>
      <span className="soft nowrap">{kind} inside</span>
      <Select
        size="small"
        aria-label="shape of the string"
        popupMatchSelectWidth={false}
        value={value ?? ANY}
        onChange={(to) => set(to || undefined)}
        options={[
          { value: ANY, label: 'as answers have it' },
          ...fitting.map((s) => ({ value: s.name, label: `has to fit ${s.name}` })),
        ]}
      />
    </div>
  );
}
