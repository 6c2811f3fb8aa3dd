import { Select } from 'antd';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { seg } from '../../../api/client';
import type { Rule, StepOf } from '../../../api/types';
import { Panel } from '../../../common/Panel';
import { ErrorText, Status } from '../../../common/ui';
import { useShapes } from '../../../data';
import { FillTable, filledWords, merged, useFill, type Filling } from '../../fill';
import { PanelHead } from '../../PanelHead';
import { withStep } from '../../where';
import type { PanelProps, StepKind } from '../kind';
import { ResultName } from '../ResultName';
import css from './Document.module.css';

type Document = StepOf<'document'>;

/** The step's document, as it is filled. */
const fillingOf = (step: Document): Filling => ({
  what: 'document',
  key: ['document', step.shape, step.fill],
  isReady: !!step.shape,
  rules: step.fill,
  wish: (kinds) => ({ document: step.shape ?? '', contract: '', operation: '', part: 'document', kinds, opened: [] }),
});

/** A document of a shape, filled like any message. */
function DocumentPanel({ step, edit, remove, where, specimen, setNumber, problem }: PanelProps<Document>) {
  const shapes = useShapes().data ?? [];
  const [draft, setDraft] = useState<Rule>();
  const [opened, setOpened] = useState<string[]>([]);
  const asked = { ...step, fill: draft ? merged(step.fill, draft) : step.fill };
  const filling = useMemo(() => fillingOf(step), [step]);
  const fill = useFill(fillingOf(asked), { ...withStep(where, asked), opened });
  const f = step.shape ? fill.data : undefined;
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title="Document" remove={remove}>
          <Select
            size="small"
            showSearch
            className={css.shape}
            aria-label="shape of the document"
            placeholder="choose a shape"
            value={step.shape}
            onChange={(shape: string) => edit((s) => ({ ...s, shape, as: s.as ?? shape }))}
            popupMatchSelectWidth={false}
            options={shapes.map((s) => ({ value: s.name, label: `${s.name} (${s.kind === 'xsd' ? 'XML' : 'JSON'})` }))}
          />
          {step.shape ? (
            <Link to={`/data/shapes/${seg(step.shape)}`}>its shape</Link>
          ) : (
            <Link to="/data/shapes/new">a new shape</Link>
          )}
          <ResultName
            label="name of the document"
            placeholder="notice"
            value={step.as}
            set={(as) => edit((s) => ({ ...s, as }))}
          />
          {f && <span className="num soft nowrap">{filledWords(f.rows, f.unfilled, step.fill)}</span>}
          {problem && <Status mood="bad">{problem}</Status>}
        </PanelHead>
      }
    >
      {fill.isError && !f ? (
        <div className={css.inset}>
          <ErrorText error={fill.error} />
        </div>
      ) : f ? (
        <FillTable
          key={step.shape}
          fill={f}
          filling={filling}
          setRules={(change) => edit((s) => ({ ...s, fill: change(s.fill) }))}
          draft={draft}
          setDraft={setDraft}
          specimen={specimen}
          where={where}
          setNumber={setNumber}
          open={(p) => setOpened([...opened, p])}
        />
      ) : (
        <p className={`soft ${css.inset}`}>
          A document is filled like a message, by a shape of the project. It is then written to a target, or goes into a
          message as it is.
        </p>
      )}
    </Panel>
  );
}

export const document: StepKind<'document'> = {
  kind: 'document',
  about: 'fill a document of a shape, to be written or sent',
  fresh: { kind: 'document', fill: [] },
  title: (s) => (s.shape ? `${s.as ? `$${s.as} as ` : ''}${s.shape}` : 'choose a shape'),
  isOpen: (s) => !s.shape || !s.as,
  Panel: DocumentPanel,
};
