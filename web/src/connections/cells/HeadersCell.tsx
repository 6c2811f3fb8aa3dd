import { Input, Segmented } from 'antd';
import type { Api } from '../../api/types';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { SecretInput } from './SecretCell';

type OwnHeader = Api<'OwnHeader'>;

const HOW = ['text', 'expression', 'secret'] as const;
type How = (typeof HOW)[number];
const EMPTY: Record<How, Partial<OwnHeader>> = {
  text: { value: '' },
  expression: { xpath: '' },
  secret: { secret: '' },
};
const howOf = (h: OwnHeader): How =>
  h.secret !== undefined ? 'secret' : h.xpath !== undefined ? 'expression' : 'text';

/** Further headers of each request: fixed texts, secrets, or computed for each call. */
export function HeadersCell({ settings, set, of, secrets }: CellProps) {
  const all = settings.headers ?? [];
  const put = (at: number, h: OwnHeader | undefined) => {
    const next = h ? all.map((x, i) => (i === at ? h : x)) : all.filter((_, i) => i !== at);
    set({ headers: next.length ? next : undefined });
  };
  return (
    <span className={css.headers}>
      {all.map((h, i) => (
        <span key={i} className={css.cell}>
          <Input
            size="small"
            className={`mono ${css.header}`}
            aria-label={`header ${i + 1}${of.replace('-', ' for ')}`}
            placeholder="X-Agency"
            value={h.name}
            onChange={(e) => put(i, { ...h, name: e.target.value })}
          />
          <Segmented
            size="small"
            value={howOf(h)}
            options={[...HOW]}
            aria-label={`how header ${i + 1} is given${of.replace('-', ' for ')}`}
            onChange={(v) => put(i, { name: h.name, ...EMPTY[v] })}
          />
          {h.xpath !== undefined ? (
            <Input
              size="small"
              className={`mono ${css.text}`}
              aria-label={`expression of header ${i + 1}${of.replace('-', ' for ')}`}
              placeholder="such as wk:uuid()"
              value={h.xpath}
              onChange={(e) => put(i, { name: h.name, xpath: e.target.value })}
            />
          ) : h.secret === undefined ? (
            <Input
              size="small"
              className={`mono ${css.text}`}
              aria-label={`value of header ${i + 1}${of.replace('-', ' for ')}`}
              value={h.value ?? ''}
              onChange={(e) => put(i, { ...h, value: e.target.value })}
            />
          ) : (
            <SecretInput
              label={`secret of header ${i + 1}${of.replace('-', ' for ')}`}
              name={h.secret || undefined}
              set={(name) => put(i, { name: h.name, secret: name ?? '' })}
              suggested={secrets.suggested(h.name.toLowerCase() || 'header', of)}
              secrets={secrets}
            />
          )}
          <button
            className="link soft small"
            aria-label={`remove header ${i + 1}${of.replace('-', ' for ')}`}
            onClick={() => put(i, undefined)}
          >
            remove
          </button>
        </span>
      ))}
      <button className="link soft small" onClick={() => set({ headers: [...all, { name: '', value: '' }] })}>
        add a header
      </button>
    </span>
  );
}
