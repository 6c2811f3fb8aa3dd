import { Select } from 'antd';
import { Link } from 'react-router';
import { seg } from '../../../api/client';
import type { StepOf } from '../../../api/types';
import { Panel } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import { useShapes } from '../../../data';
import { filledWords, useFilled, type Filling } from '../../fill';
import { PanelHead } from '../../PanelHead';
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
function DocumentPanel(props: PanelProps<Document>) {
  const { step, edit, remove, problem } = props;
  const shapes = useShapes().data ?? [];
  const { fill: f, table } = useFilled(props, fillingOf, step.shape ?? '');
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
      {table ?? (
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
