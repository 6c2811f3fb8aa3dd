import { Segmented } from 'antd';
import type { StepOf } from '../../../api/types';
import { plural } from '../../../common/format';
import { MessageEditor } from '../../../common/MessageEditor';
import { Panel, Scroll } from '../../../common/Panel';
import { TreeView } from '../../../common/TreeView';
import { Status } from '../../../common/ui';
import { PanelHead } from '../../PanelHead';
import { useLookAt } from '../../queries';
import type { PanelProps, StepKind } from '../kind';
import { ResultName } from '../ResultName';
import { languageWords, QUERY, STYLESHEET } from './texts';
import css from './Transform.module.css';

type Transform = StepOf<'transform'>;

const SHOWN = 20;

/** A stylesheet or a query as it is written, and what it gives for the record looked at. */
function TransformPanel({ step, edit, remove, where, problem }: PanelProps<Transform>) {
  const language = step.language === 'xquery' ? 'xquery' : 'xslt';
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title="Transform" remove={remove}>
          <Segmented
            size="small"
            aria-label="language"
            value={language}
            onChange={(to) => edit((s) => ({ ...s, language: to, text: started(s, to) }))}
            options={[
              { value: 'xslt', label: 'XSLT 3.0' },
              { value: 'xquery', label: 'XQuery 3.1' },
            ]}
          />
          <ResultName
            label="name of what it gives"
            placeholder="sheet"
            value={step.as}
            set={(as) => edit((s) => ({ ...s, as }))}
          />
        </PanelHead>
      }
      bar={
        <p className={`soft small ${css.about}`}>
          The record is its document. {language === 'xslt' ? 'Parameters' : 'Variables'} named as in the flow are given,
          such as <span className="mono">$reply</span>. It reaches no files and no network.
        </p>
      }
      foot={<Result step={step} where={where} problem={problem} />}
    >
      <div className={css.text}>
        <MessageEditor
          label={languageWords(language)}
          value={step.text ?? ''}
          isXml={language === 'xslt'}
          hasNumbers
          onChange={(text) => edit((s) => (s.text === text ? s : { ...s, text }))}
        />
      </div>
    </Panel>
  );
}

/** A text that was begun is kept when the language changes; an untouched one becomes that of the other. */
const started = (s: Transform, to: string) =>
  !s.text || s.text === STYLESHEET || s.text === QUERY ? (to === 'xslt' ? STYLESHEET : QUERY) : s.text;

function Result({ step, where, problem }: Pick<PanelProps<Transform>, 'step' | 'where' | 'problem'>) {
  const look = useLookAt(where).data;
  const made = look?.after?.find((v) => v.name === step.as);
  const failed = look?.failedPath === look?.path ? look?.reason : undefined;
  return (
    <Scroll label="what it gives" className={css.result}>
      <div className="row">
        <h2>For this record</h2>
        {problem ? (
          <Status mood="bad">{problem}</Status>
        ) : failed ? (
          <Status mood="bad">{failed}</Status>
        ) : (
          <Status mood={made ? 'ok' : 'idle'}>{made ? plural(made.items, 'item') : 'nothing'}</Status>
        )}
      </div>
      {!problem && made?.values.slice(0, SHOWN).map((tree, i) => <TreeView key={i} root={tree} />)}
    </Scroll>
  );
}

export const transform: StepKind<'transform'> = {
  kind: 'transform',
  about: 'make something else of the record by XSLT or XQuery',
  fresh: { kind: 'transform', language: 'xslt', text: STYLESHEET, as: 'made' },
  title: (s) => `${s.as ? `$${s.as}` : 'name what it gives'} by ${languageWords(s.language)}`,
  isOpen: (s) => !s.as || !s.text,
  Panel: TransformPanel,
};
