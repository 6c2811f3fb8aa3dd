import { Button } from 'antd';
import { Component, type ReactNode } from 'react';
import { ApiProblem } from '../api/client';
import css from './ui.module.css';

export type Mood = 'ok' | 'warn' | 'bad' | 'idle' | 'busy';
/** Status is always a shape and a word. */
export const Status = ({ mood, children }: { mood: Mood; children: ReactNode }) => (
  <span className={`st ${mood}`}>{children}</span>
);

export function ErrorText({ error, title }: { error: unknown; title?: string }) {
  if (!error) return null;
  const e = error as ApiProblem;
  return (
    <div className="notice" role="alert">
      {title && <b>{title} </b>}
      <span>{e.message}</span>
      {e.place?.line ? (
        <div className="soft small">
          {e.place.document}, line {e.place.line}
          {e.place.column ? `, column ${e.place.column}` : ''}
        </div>
      ) : null}
    </div>
  );
}

/** An empty page says the next step. */
export const Empty = ({ title, children }: { title: string; children: ReactNode }) => (
  <div className="empty">
    <h1>{title}</h1>
    {children}
  </div>
);

export function Tabs<T extends string>({
  value,
  onChange,
  items,
}: {
  value: T;
  onChange: (t: T) => void;
  items: { id: T; label: ReactNode }[];
}) {
  return (
    <div className="tabs" role="tablist">
      {items.map((i) => (
        <button
          key={i.id}
          role="tab"
          aria-selected={i.id === value}
          className={i.id === value ? 'on' : ''}
          onClick={() => onChange(i.id)}
        >
          {i.label}
        </button>
      ))}
    </div>
  );
}

/** One broken panel does not take the page along. */
export class Fence extends Component<{ children: ReactNode }, { broken?: Error }> {
  state: { broken?: Error } = {};
  static getDerivedStateFromError(broken: Error) {
    return { broken };
  }
  render() {
    if (!this.state.broken) return this.props.children;
    return (
      <div className={`notice ${css.notice}`}>
        <b>This part of the page broke.</b> {this.state.broken.message}{' '}
        <Button size="small" onClick={() => this.setState({ broken: undefined })}>
          Show it again
        </Button>
      </div>
    );
  }
}
