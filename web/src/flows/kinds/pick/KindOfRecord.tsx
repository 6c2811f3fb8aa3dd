import { Button, Checkbox, Input, Popover, Select } from 'antd';
import { useMemo, useState } from 'react';
import type { PickedKind, RecordKind, Specimen, StepOf, TriedKind } from '../../../api/types';
import { Columns } from './Columns';
import { EachField } from './EachField';
import { elements, fromXPath } from './paths';
import { identifying, resultName, seenFrom, taken } from './picking';
import type { Known } from './places';
import css from './KindOfRecord.module.css';

interface Props {
  kinds: RecordKind[];
  at: number;
  edit: (change: (k: RecordKind) => RecordKind) => void;
  /** Gives this kind and another a column with the same key, made of some of the other's columns. */
  link: (to: number, names: string[]) => void;
  remove?: () => void;
  /** The answer with its strings opened, and what is known of other answers. */
  opened?: Known;
  view?: PickedKind;
  /** How it does on many answers. */
  tried?: TriedKind;
  /** Looks at the answer to another record. */
  look?: (number: number) => void;
  specimen?: Specimen;
  writers: StepOf<'write'>[];
  writes: () => void;
  goTo: (id: string) => void;
}

/** One kind of records: what one is, its name, where it goes, and its columns. */
export function KindOfRecord(props: Props) {
  const { kinds, at, edit, link, remove, opened, view, tried, look, specimen, writers, writes, goTo } = props;
  const kind = kinds[at];
  const options = useMemo(() => (opened ? elements(opened) : []), [opened]);
  const typedByHand = !!kind.each && fromXPath(kind.each) === null;
  return (
    <section aria-label={`record kind ${at + 1}`}>
      <div className={`small ${css.head}`}>
        <div className="row">
          {kinds.length > 1 && <span className={css.number}>{at + 1}</span>}
          <ResultName kind={kind} edit={edit} />
          <span className="soft nowrap">one record is</span>
          <EachField value={kind.each ?? ''} set={(to) => edit((k) => seenFrom(k, to))} options={options} />
        </div>
        <div className={`row ${css.deeds}`}>
          <button
            className="link"
            disabled={!opened || typedByHand}
            title={typedByHand ? 'Type the columns: what one record is was written by hand' : undefined}
            onClick={() => opened && edit((k) => taken(k, opened))}
          >
            take all
          </button>
          {kinds.length > 1 && <Link kinds={kinds} at={at} link={link} />}
          {writers.map((w) => (
            <button
              key={w.id}
              className="link push cut"
              title="go to the step that writes them"
              onClick={() => goTo(w.id)}
            >
              written to {w.target ?? 'a target to be chosen'}
            </button>
          ))}
          {writers.length === 0 && kind.columns.length > 0 && (
            <button className="link soft push" title="adds a step that writes these records" onClick={writes}>
              write them
            </button>
          )}
          {remove && (
            <button className="link soft" aria-label={`leave out ${resultName(kind)}`} onClick={remove}>
              leave out
            </button>
          )}
        </div>
      </div>
      <Columns kind={kind} edit={edit} view={view} tried={tried} look={look} specimen={specimen} hasCall />
    </section>
  );
}

/** What tells one record of another kind from the next; both kinds then have a key made of it. */
function Link({ kinds, at, link }: Pick<Props, 'kinds' | 'at' | 'link'>) {
  const [open, setOpen] = useState(false);
  const [names, setNames] = useState<string[]>([]);
  const others = kinds.map((k, i) => ({ i, k })).filter((o) => o.i !== at && identifying(o.k, kinds[at]).length > 0);
  const [to, setTo] = useState<number>();
  const other = others.find((o) => o.i === to) ?? others.at(0);
  if (!other) return null;
  const columns = identifying(other.k, kinds[at]);
  const form = (
    <div className={css.link}>
      <p className="soft small">
        Both kinds get a column with a key made of these values: the same in both, and in every run.
      </p>
      {others.length > 1 && (
        <Select
          size="small"
          aria-label="kind to link to"
          value={other.i}
          onChange={(v) => (setTo(v), setNames([]))}
          options={others.map((o) => ({ value: o.i, label: `${o.i + 1} ${resultName(o.k)}` }))}
        />
      )}
      <span className="soft small">What tells one {resultName(other.k)} from another?</span>
      <Checkbox.Group
        className={`mono ${css.by}`}
        value={names}
        onChange={setNames}
        options={columns.map((c) => ({ value: c.name, label: c.name }))}
      />
      <Button
        size="small"
        type="primary"
        disabled={names.length === 0}
        onClick={() => {
          link(other.i, names);
          setOpen(false);
        }}
      >
        Link
      </Button>
    </div>
  );
  return (
    <Popover trigger="click" open={open} onOpenChange={setOpen} content={form} placement="topLeft">
      <button className="link soft">link to {others.length > 1 ? 'another kind' : resultName(other.k)}</button>
    </Popover>
  );
}

/** What the steps after the pick call its records. */
function ResultName({ kind, edit }: Pick<Props, 'edit'> & { kind: RecordKind }) {
  const [text, setText] = useState<string>();
  const end = () => {
    if (text !== undefined) edit((k) => ({ ...k, as: text.replace(/^\$/, '').trim() || undefined }));
    setText(undefined);
  };
  return (
    <Input
      size="small"
      className={`mono ${css.as}`}
      aria-label="name of the result"
      title="The steps after it know the result by this name"
      prefix="$"
      placeholder="result"
      value={text ?? kind.as ?? ''}
      onChange={(e) => setText(e.target.value)}
      onBlur={end}
      onPressEnter={end}
    />
  );
}
