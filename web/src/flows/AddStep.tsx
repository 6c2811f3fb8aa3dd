import { Dropdown } from 'antd';
import type { NewStep } from './edits';
import { kinds } from './kinds';
import css from './AddStep.module.css';

export const ADD_STEP_ID = 'add-step';

/** Offers the kinds of steps; the one taken comes after the step looked at. */
export const AddStep = ({ add }: { add: (step: NewStep) => void }) => (
  <div className={css.inset}>
    <Dropdown
      trigger={['click']}
      menu={{
        items: kinds.map((k) => ({
          key: k.kind,
          label: (
            <>
              <b>{k.kind}</b> <span className="soft">{k.about}</span>
            </>
          ),
          onClick: () => add(k.fresh),
        })),
      }}
    >
      <button className="link soft" id={ADD_STEP_ID}>
        add a step <kbd>a</kbd>
      </button>
    </Dropdown>
  </div>
);
