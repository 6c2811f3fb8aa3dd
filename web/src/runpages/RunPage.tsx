import { useCallback, useEffect, useRef, useState } from 'react';
import { ApiProblem } from '../api/client';
import type { OpenedPage, PageAnswer } from '../api/types';
import { AnswerOf } from './AnswerOf';
import { ask, kept, linkOf, opened, saveWorkbook, type Asking } from './asking';
import { AskForm } from './AskForm';
import { Frame } from './Frame';
import { Guest } from './Guest';
import { begun, bodyOf, problemsAt, type Values } from './values';
import css from './RunPage.module.css';

const LOOK_MILLIS = 2_000;
/** By so much of its end a link is told from others. */
const LINK_END = 8;

/** A page as it is used: opened, filled in, asked. */
export function RunPage({ page }: { page: string }) {
  const link = linkOf(location.hash);
  const [found, setFound] = useState<OpenedPage>();
  const [problem, setProblem] = useState<ApiProblem>();
  const [again, setAgain] = useState(0);
  useEffect(() => {
    const leaving = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    opened(page, link, leaving.signal).then(
      (p) => {
        document.title = p.title;
        setProblem(undefined);
        setFound(p);
        // What starts is looked at again until it is there.
        if (!p.form) timer = setTimeout(() => setAgain((n) => n + 1), LOOK_MILLIS);
      },
      (e: Error) => {
        if (e.name !== 'AbortError') setProblem(e as ApiProblem);
      },
    );
    return () => {
      leaving.abort();
      clearTimeout(timer);
    };
  }, [page, link, again]);
  if (problem?.code === 'access.login') return <Guest then={() => setAgain((n) => n + 1)} />;
  if (problem)
    return (
      <Frame form={{ title: problem.status === 404 ? 'There is no such page' : 'This does not work' }}>
        <p>{problem.message}</p>
        <button type="button" className={css.plain} onClick={() => setAgain((n) => n + 1)}>
          Try again
        </button>
      </Frame>
    );
  if (!found) return null;
  if (!found.form)
    return (
      <Frame form={found}>
        <p role="status">{found.state === 'starting' ? 'Just a moment.' : 'This does not work at the moment.'}</p>
      </Frame>
    );
  return <Opened page={page} link={link} of={found} form={found.form} />;
}

interface OpenedProps {
  page: string;
  link?: string;
  of: OpenedPage;
  form: NonNullable<OpenedPage['form']>;
}

function Opened({ page, link, of: p, form }: OpenedProps) {
  const [values, setValues] = useState<Values>(() => begun(form.fields));
  const asking = useAsking(page, link, p.name ?? undefined);
  const { answer } = asking;
  const problems = answer?.outcome === 'UNFIT' ? problemsAt(form.fields, answer.problems ?? []) : {};
  const body = bodyOf(form.fields, values);
  const isTooLarge = body.length > form.maxBytes;
  return (
    <Frame form={form} foot={<Foot of={p} />}>
      <AskForm
        // What the server found belongs to what was sent.
        problems={isTooLarge ? { '': tooLarge(form.maxBytes) } : problems}
        form={form}
        values={values}
        set={(to) => {
          if (answer?.outcome === 'UNFIT') asking.clear();
          setValues(to);
        }}
        ask={isTooLarge ? undefined : () => asking.begin(body)}
        busy={
          asking.under && { since: asking.under.at, isAway: asking.isAway, usualMillis: p.usualMillis ?? undefined }
        }
      />
      {asking.error && (
        <p className={css.problem} role="alert">
          <span aria-hidden="true">■</span> {asking.error.message}
        </p>
      )}
      {answer && asking.done && answer.outcome !== 'UNFIT' && (
        <AnswerOf
          key={asking.done.number}
          form={form}
          answer={answer}
          at={asking.done.at}
          workbook={() => asking.save()}
          again={asking.under ? undefined : () => asking.begin(body)}
        />
      )}
    </Frame>
  );
}

const tooLarge = (most: number) => `This is too much to be sent: at most ${Math.floor(most / 100_000) / 10} MB.`;

function Foot({ of: p }: { of: OpenedPage }) {
  return (
    <>
      {p.ends && <div>This link ends on {new Date(p.ends).toLocaleDateString(undefined, { dateStyle: 'long' })}</div>}
      {p.name && (
        <div>
          {p.name} · <a href="/pages/">all pages</a>
        </div>
      )}
    </>
  );
}

/** What is asked, and what came of it: goes on when the page is loaded again meanwhile. */
function useAsking(page: string, link: string | undefined, name: string | undefined) {
  // Whoever else opens the page in this window has not asked it.
  const whose = [page, name ?? link?.slice(-LINK_END) ?? ''].join(' ');
  const [under, setUnder] = useState<Asking | undefined>(() => kept.read(whose));
  const [done, setDone] = useState<Asking>();
  const [answer, setAnswer] = useState<PageAnswer>();
  const [error, setError] = useState<Error>();
  const [isAway, setAway] = useState(false);
  const current = useRef<AbortController>(null);

  const go = useCallback(
    (asking: Asking) => {
      current.current?.abort();
      const leaving = new AbortController();
      current.current = leaving;
      void ask(page, link, asking, leaving.signal, setAway)
        .then(
          (said) => {
            setAnswer(said);
            setDone(asking);
          },
          (e: Error) => {
            if (e.name === 'AbortError') return false;
            setError(e);
            // Logged out meanwhile: logged in again, the page goes on.
            if ((e as ApiProblem).status === 401) setUnder(undefined);
            return (e as ApiProblem).status !== 401;
          },
        )
        .then((isOver) => {
          if (isOver === false) return;
          kept.write(whose, undefined);
          setUnder(undefined);
          setAway(false);
        });
    },
    [page, link, whose],
  );
  useEffect(() => {
    const there = kept.read(whose);
    if (there) go(there);
    return () => current.current?.abort();
  }, [whose, go]);

  return {
    under,
    done,
    answer,
    error,
    isAway,
    begin(body: string) {
      const asking = { number: crypto.randomUUID?.() ?? random(), body, at: Date.now() };
      setError(undefined);
      setAnswer(undefined);
      setUnder(asking);
      kept.write(whose, asking);
      go(asking);
    },
    clear: () => setAnswer(undefined),
    save() {
      if (done) saveWorkbook(page, link, done.number).catch(setError);
    },
  };
}

/** Pages that did not come over TLS have no randomUUID. */
const random = () =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, '0')).join('');
