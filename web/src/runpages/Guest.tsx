import { useEffect, useState } from 'react';
import { api } from '../api/client';
import type { PageEntry } from '../api/types';
import { Frame } from './Frame';
import css from './RunPage.module.css';

/** Logging in, for colleagues without a link. */
export function Guest({ then }: { then: () => void }) {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [error, setError] = useState<Error>();
  return (
    <Frame form={{ title: 'Log in', text: 'Or use the link that you were given.' }}>
      <form
        className={css.form}
        onSubmit={(e) => {
          e.preventDefault();
          api.post('/session', { name, password }).then(then, setError);
        }}
      >
        <div className={css.fields}>
          <div className={css.field}>
            <label htmlFor="name">Name</label>
            <input
              id="name"
              className={css.input}
              autoComplete="username"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </div>
          <div className={css.field}>
            <label htmlFor="password">Password</label>
            <input
              id="password"
              type="password"
              className={css.input}
              autoComplete="current-password"
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </div>
        </div>
        {error && (
          <p className={css.problem} role="alert">
            <span aria-hidden="true">■</span> {error.message}
          </p>
        )}
        <button type="submit" className={css.deed}>
          Log in
        </button>
      </form>
    </Frame>
  );
}

/** The pages that one may use. */
export function Pages() {
  const [pages, setPages] = useState<PageEntry[]>();
  const [isOut, setOut] = useState(false);
  const [again, setAgain] = useState(0);
  useEffect(() => {
    const leaving = new AbortController();
    api.get<PageEntry[]>('/pages', leaving.signal).then(
      (all) => {
        setOut(false);
        setPages(all);
      },
      (e: Error) => {
        if (e.name !== 'AbortError') setOut(true);
      },
    );
    return () => leaving.abort();
  }, [again]);
  if (isOut) return <Guest then={() => setAgain((n) => n + 1)} />;
  if (!pages) return null;
  return (
    <Frame
      form={{ title: pages.length === 0 ? 'There is no page for you yet' : 'What you can ask' }}
      foot={
        <button
          type="button"
          className="link soft"
          onClick={() => void api.delete('/session').finally(() => setOut(true))}
        >
          Log out
        </button>
      }
    >
      <ul className={css.list}>
        {pages.map((p) => (
          <li key={p.page}>
            <a href={`/pages/${p.page}`}>{p.title}</a>
            {p.text && <p className="soft">{p.text}</p>}
          </li>
        ))}
      </ul>
    </Frame>
  );
}
