import { Button } from 'antd';
import type { ReactNode } from 'react';
import css from './PanelHead.module.css';

export const PanelHead = ({
  title,
  children,
  remove,
}: {
  title: ReactNode;
  children?: ReactNode;
  remove: () => void;
}) => (
  <div className={`row ${css.bar}`}>
    <h1 className="nowrap">{title}</h1>
    {children}
    <Button type="text" size="small" className="push" onClick={remove}>
      Remove step
    </Button>
  </div>
);
