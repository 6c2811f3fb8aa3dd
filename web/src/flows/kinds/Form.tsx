import type { ReactNode } from 'react';
import { Panel } from '../../common/Panel';
import { PanelHead } from '../PanelHead';
import css from './Form.module.css';

/** The panel of a kind that is a few fields one below the other. */
export const Form = ({
  title,
  about,
  remove,
  problem,
  children,
}: {
  title: ReactNode;
  about: ReactNode;
  remove: () => void;
  problem?: string;
  children: ReactNode;
}) => (
  <Panel head={<PanelHead title={title} remove={remove} />}>
    <div className={css.inset}>
      <p className={`soft ${css.about}`}>{about}</p>
      {problem && <p className="st warn">{problem}</p>}
      {children}
    </div>
  </Panel>
);
