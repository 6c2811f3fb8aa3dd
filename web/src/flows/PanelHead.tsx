import { Button } from 'antd';
import type { ReactNode } from 'react';

export const PanelHead = ({
  title,
  children,
  remove,
}: {
  title: ReactNode;
  children?: ReactNode;
  remove: () => void;
}) => (
  <div className="row" style={{ padding: '10px 18px 6px', minHeight: 46 }}>
    <h1 className="nowrap">{title}</h1>
    {children}
    <Button type="text" size="small" className="push" onClick={remove}>
      Remove step
    </Button>
  </div>
);
