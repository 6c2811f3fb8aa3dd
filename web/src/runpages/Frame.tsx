import type { ReactNode } from 'react';
import type { PageForm } from '../api/types';
import css from './RunPage.module.css';

interface Props {
  form: Pick<PageForm, 'title' | 'text' | 'owner' | 'readers' | 'contact'>;
  /** Below all: until when a link works, who is logged in. */
  foot?: ReactNode;
  children: ReactNode;
}

/** What is around a page: whose it is, what it is for, whom to ask. */
export function Frame({ form, foot, children }: Props) {
  return (
    <div className={css.page}>
      {(form.owner || form.readers) && (
        <header className={css.owner}>
          <strong>{form.owner}</strong>
          <span className="soft">{form.readers}</span>
        </header>
      )}
      <main>
        <h1 className={css.title}>{form.title}</h1>
        {form.text && <p className={css.text}>{form.text}</p>}
        {children}
      </main>
      <footer className={css.foot}>
        {form.contact && <div>Questions: {form.contact}</div>}
        {foot}
      </footer>
    </div>
  );
}
