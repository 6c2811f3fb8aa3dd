import { Tooltip } from 'antd';
import type { Field, Tree } from '../api/types';

const typeName = (f: Field) => (f.type === 'string' ? 'text' : f.type) + (f.pattern ? ` as ${f.pattern}` : '');
export { typeName };

/** Records with their inferred types; a value that does not fit is marked. */
export function RecordTable({ fields, records, start = 1 }: { fields: Field[]; records: Tree[]; start?: number }) {
  return (
    <table className="grid">
      <thead>
        <tr>
          <th className="n" style={{ width: 40 }}>
            #
          </th>
          {fields.map((f) => (
            <th key={f.name} className={f.type === 'integer' || f.type === 'decimal' ? 'n' : ''}>
              <div
                className="mono"
                style={{ color: 'var(--ink)' }}
                title={f.label === f.name ? undefined : `in expressions: ${f.name}`}
              >
                {f.label}
              </div>
              <Sure field={f} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {records.map((r, i) => (
          <tr key={i}>
            <td className="n faint">{start + i}</td>
            {fields.map((f) => {
              const value = r.children?.find((c) => c.name === f.name)?.text;
              const odd = f.disagreeing?.some((d) => d.record === start + i);
              return (
                <td
                  key={f.name}
                  className={f.type === 'integer' || f.type === 'decimal' ? 'n' : ''}
                  style={{ maxWidth: 260, background: odd ? 'var(--ochre-soft)' : undefined }}
                >
                  <div className="cut">
                    {value === undefined || value === '' ? <span className="faint">blank</span> : value}
                    {odd && <span className="st warn" style={{ marginLeft: 5 }} title={`not ${typeName(f)}`} />}
                  </div>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Sure({ field: f }: { field: Field }) {
  const odd = f.disagreeing?.length ?? 0;
  if (!f.sampled)
    return (
      <div className="faint" style={{ fontWeight: 400 }}>
        {typeName(f)}
      </div>
    );
  const text = `${f.sampled} looked at, ${f.blank} blank${odd ? `; not ${typeName(f)}: ${f.disagreeing.map((d) => `“${d.value}” in record ${d.record}`).join(', ')}` : ''}`;
  return (
    <Tooltip title={text}>
      <div style={{ fontWeight: 400 }} className={odd ? 'st warn' : 'faint'}>
        {typeName(f)}
        {odd ? `, ${odd} odd` : ''}
        {f.blank ? <span className="faint"> · {f.blank} blank</span> : null}
      </div>
    </Tooltip>
  );
}
