import type { Step } from '../api/types';
import type { Edits } from './useEdits';
import css from './StepDeeds.module.css';

/** What can be done to a step as a whole, each with its key. */
export function StepDeeds({ step, edits }: { step: Step; edits: Edits }) {
  const deeds: [string, string, () => unknown, boolean][] = [
    ['duplicate', 'd', edits.duplicate, true],
    [step.off ? 'switch on' : 'switch off', 'x', edits.switchOff, true],
    ['unwrap', 'u', edits.unwrap, edits.isBlock],
    ['move up', 'Alt ↑', () => edits.move(-1), true],
    ['move down', 'Alt ↓', () => edits.move(1), true],
    ['copy as text', 'Ctrl C', edits.copy, true],
  ];
  return (
    <div className={`row wrap small ${css.bar}`} aria-label="the step as a whole" role="toolbar">
      {deeds
        .filter((d) => d[3])
        .map(([name, key, run]) => (
          <button key={name} className="link soft" title={key} onClick={() => run()}>
            {name} <kbd>{key}</kbd>
          </button>
        ))}
    </div>
  );
}
