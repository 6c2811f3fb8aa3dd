import { Button } from 'antd';
import type { StepOf } from '../../../api/types';
import { WordsField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import css from './Branch.module.css';

type Branch = StepOf<'branch'>;

/** The conditions of a branch, tried from top to bottom. */
function BranchPanel({ step, edit, remove, where, problem }: PanelProps<Branch>) {
  const arms = step.arms;
  return (
    <Form
      title="Branch"
      about="Takes the first arm whose condition holds, or what stands under otherwise."
      remove={remove}
      problem={problem}
    >
      <WordsField
        label="What is asked"
        id="about"
        value={step.about}
        set={(about) => edit((s) => ({ ...s, about }))}
        placeholder="is a berth free?"
      />
      {arms.map((a, i) => (
        <div key={i} className={css.arm}>
          <XPathField
            label={`When (arm ${i + 1})`}
            id={`when-${i}`}
            where={where}
            value={a.when}
            set={(when) => edit((s) => ({ ...s, arms: s.arms.map((x, n) => (n === i ? { ...x, when } : x)) }))}
            placeholder="$reply/free > 0"
          />
          {arms.length > 1 && (
            <button
              className="link soft small"
              onClick={() => edit((s) => ({ ...s, arms: s.arms.filter((_, n) => n !== i) }))}
            >
              remove this arm with its {a.steps.length === 1 ? 'step' : `${a.steps.length} steps`}
            </button>
          )}
        </div>
      ))}
      <Button size="small" onClick={() => edit((s) => ({ ...s, arms: [...s.arms, { steps: [] }] }))}>
        Add an arm
      </Button>
    </Form>
  );
}

export const branch: StepKind<'branch'> = {
  kind: 'branch',
  about: 'go one way or another, by a condition',
  fresh: { kind: 'branch', arms: [{ steps: [] }], otherwise: [] },
  title: (s) => s.about ?? s.arms[0]?.when ?? 'write a condition',
  isOpen: (s) => s.arms.some((a) => !a.when),
  Panel: BranchPanel,
};
