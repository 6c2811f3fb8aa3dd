import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { ErrorText } from '../common/ui';
import { Labels } from './Labels';
import { linked } from './links';
import { useAbout, usePutAbout, type AboutKind, type AboutThing } from './queries';
import css from './AboutBox.module.css';

interface Props {
  kind: AboutKind;
  name: string;
  /** Whether it has notes, beside a description and labels. */
  notes?: boolean;
}

/** What people say about a thing: shown, or edited in place. */
export function AboutBox({ kind, name, notes }: Props) {
  const about = useAbout().of(kind, name);
  const [draft, setDraft] = useState<AboutThing>();
  if (draft)
    return <Editor kind={kind} draft={draft} change={setDraft} notes={notes} end={() => setDraft(undefined)} />;
  const said = about.description || about.labels.length || (notes && about.notes);
  return (
    <div className={css.box}>
      {about.description && <span>{about.description} </span>}
      <Labels of={about.labels} />
      <button className="link soft small" onClick={() => setDraft(about)}>
        {said ? 'change' : notes ? 'describe it, label it, add notes' : 'describe it, label it'}
      </button>
      {notes && about.notes && <div className={`soft ${css.notes}`}>{linked(about.notes)}</div>}
    </div>
  );
}

interface EditorProps {
  kind: AboutKind;
  draft: AboutThing;
  change: (a: AboutThing) => void;
  notes?: boolean;
  end: () => void;
}

function Editor({ kind, draft, change, notes, end }: EditorProps) {
  const labels = useAbout().labels(kind);
  const put = usePutAbout();
  return (
    <div className={css.box}>
      <div className="row">
        <Input
          size="small"
          autoFocus
          aria-label="description"
          placeholder="what it is for, in a line"
          maxLength={500}
          value={draft.description}
          onChange={(e) => change({ ...draft, description: e.target.value })}
        />
        <Select
          mode="tags"
          size="small"
          className={css.labels}
          aria-label="labels"
          placeholder="labels"
          value={draft.labels}
          onChange={(v: string[]) => change({ ...draft, labels: v })}
          options={labels.map((l) => ({ value: l, label: l }))}
        />
        <Button
          size="small"
          type="primary"
          loading={put.isPending}
          onClick={() => put.mutate(draft, { onSuccess: end })}
        >
          Keep
        </Button>
        <Button size="small" type="text" onClick={end}>
          Cancel
        </Button>
      </div>
      {notes && (
        <Input.TextArea
          className={css.notes}
          aria-label="notes"
          placeholder="what the provider's documentation says; addresses become links"
          autoSize={{ minRows: 2, maxRows: 10 }}
          value={draft.notes}
          onChange={(e) => change({ ...draft, notes: e.target.value })}
        />
      )}
      {put.isError && <ErrorText error={put.error} />}
    </div>
  );
}
