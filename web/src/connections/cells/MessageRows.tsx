import { Input, Segmented } from 'antd';
import type { Api, ShapeRow } from '../../api/types';
import type { SecretDesk } from './cell';
import css from './cells.module.css';
import { SecretInput } from './SecretCell';

type MessageRow = Api<'MessageRow'>;

interface Props {
  /** Rows of the message that can be filled. */
  rows: ShapeRow[];
  filled: MessageRow[];
  set: (rows: MessageRow[]) => void;
  /** For labels: empty, or ` for` and the environment. */
  whose: string;
  /** An expression to begin with. */
  proposed?: string;
  of: string;
  secrets: SecretDesk;
}

/** What a row is called that takes a session's token: it is proposed there. */
const CARRIES_SESSION = /token|session|ticket/i;

const HOW = ['text', 'expression', 'secret'] as const;
const howOf = (r: MessageRow | undefined): (typeof HOW)[number] =>
  r?.secret !== undefined ? 'secret' : r?.xpath !== undefined ? 'expression' : 'text';

/** Rows of a message that are filled once for every call: by a fixed text, an expression or a secret. */
export function MessageRows({ rows, filled, set, whose, proposed, of, secrets }: Props) {
  const put = (path: string, row: MessageRow | undefined) => {
    const others = filled.filter((r) => r.path !== path);
    set(row ? [...others, row] : others);
  };
  return (
    <span className={css.rows}>
      {rows.map((row) => {
        const r = filled.find((f) => f.path === row.path);
        const how = howOf(r);
        const label = `${row.name}${whose}`;
        return (
          <span key={row.path} className={css.cell}>
            <span className={`mono ${css.rowName}`} title={row.path}>
              {row.name}
              <span className="faint"> {row.occurs === '1' ? '' : row.occurs}</span>
            </span>
            <Segmented
              size="small"
              aria-label={`how ${label} is filled`}
              value={how}
              options={[...HOW]}
              onChange={(v) =>
                put(row.path, {
                  path: row.path,
                  ...(v === 'secret' ? { secret: '' } : v === 'expression' ? { xpath: proposed ?? '' } : { text: '' }),
                })
              }
            />
            {how === 'secret' ? (
              <SecretInput
                label={label}
                name={r?.secret || undefined}
                set={(name) => put(row.path, { path: row.path, secret: name ?? '' })}
                suggested={secrets.suggested(row.name.toLowerCase(), of)}
                secrets={secrets}
              />
            ) : (
              <Input
                size="small"
                className={`mono ${css.text}`}
                aria-label={label}
                placeholder={how === 'expression' ? 'an expression' : 'not filled'}
                value={(how === 'expression' ? r?.xpath : r?.text) ?? ''}
                onChange={(e) =>
                  put(
                    row.path,
                    how === 'expression'
                      ? { path: row.path, xpath: e.target.value }
                      : e.target.value
                        ? { path: row.path, text: e.target.value }
                        : undefined,
                  )
                }
              />
            )}
            {proposed && !r && CARRIES_SESSION.test(row.name) && (
              <button className="link mono small" onClick={() => put(row.path, { path: row.path, xpath: proposed })}>
                {proposed}
              </button>
            )}
          </span>
        );
      })}
    </span>
  );
}
