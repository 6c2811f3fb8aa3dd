import { Checkbox, Input, Select } from 'antd';
import { indent } from '../../common/place';
import { FORMS, told, TYPES, type Guess, type Sample } from './handMade';
import css from './HandMadePage.module.css';

const HINTS: Record<Sample['form'], string> = {
  JSON: '{"name": "Ada Marsh", "rank": "mate"}',
  XML: '<member rank="mate">…</member>',
  FORM: 'name=Ada+Marsh&rank=mate',
  PARTS: 'name=Ada+Marsh',
  TEXT: 'nothing has to be said of a text',
  BYTES: '',
};

interface Props {
  title: string;
  what: string;
  sample: Sample;
  set: (sample: Sample | undefined) => void;
  fields: Guess[];
}

/** A message told by a sample of it; the fields that are found in it can be put right. */
export function SampleBox({ title, what, sample, set, fields }: Props) {
  return (
    <div className={css.sample}>
      <div className="row">
        <h2>{title}</h2>
        <Select
          size="small"
          aria-label={`form of the ${what}`}
          className={css.form}
          value={sample.form}
          onChange={(form) => set({ ...sample, form })}
          options={FORMS}
        />
      </div>
      <div className={css.two}>
        <Input.TextArea
          className="mono"
          aria-label={`sample of the ${what}`}
          autoSize={{ minRows: 6, maxRows: 16 }}
          placeholder={`paste one: ${HINTS[sample.form]}`}
          value={sample.text ?? ''}
          onChange={(e) => set({ ...sample, text: e.target.value || undefined })}
        />
        {fields.length > 0 && (
          <table className={`grid ${css.table}`}>
            <thead>
              <tr>
                <th>field</th>
                <th>type</th>
                <th>always</th>
              </tr>
            </thead>
            <tbody>
              {fields.map((f) => (
                <tr key={f.path}>
                  <td className="mono" style={indent(f.depth, 18)}>
                    {f.name}
                    {f.repeated && <span className="faint small"> each</span>}
                  </td>
                  <td>
                    {f.isObject ? (
                      <span className="faint">its fields</span>
                    ) : (
                      <Select
                        size="small"
                        aria-label={`type of ${f.path}`}
                        className={css.type}
                        placeholder="anything"
                        value={f.type}
                        onChange={(type) => set(told(sample, f, { type }))}
                        options={TYPES}
                      />
                    )}
                  </td>
                  <td>
                    <Checkbox
                      aria-label={`${f.path} is always there`}
                      checked={f.required}
                      onChange={(e) => set(told(sample, f, { required: e.target.checked }))}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </div>
  );
}
