import type { ReactNode, Ref } from 'react';
import { Fence } from './ui';
import css from './Panel.module.css';

/** A work surface: what stays in sight above and below, and a body that scrolls. */
export const Panel = ({
  head,
  bar,
  foot,
  children,
  scrolls = true,
}: {
  head?: ReactNode;
  bar?: ReactNode;
  foot?: ReactNode;
  children?: ReactNode;
  /** Whether the body scrolls as a whole; otherwise its parts do. */
  scrolls?: boolean;
}) => (
  <div className={css.panel}>
    {head}
    {bar}
    <div className={scrolls ? `scroll ${css.body}` : css.body}>
      <Fence>{children}</Fence>
    </div>
    {foot}
  </div>
);

/** A part that scrolls by itself and can be reached by the keyboard, for what has nothing to be chosen inside. */
export const Scroll = ({
  label,
  className,
  ref,
  children,
}: {
  label: string;
  className?: string;
  ref?: Ref<HTMLDivElement>;
  children: ReactNode;
}) => (
  // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
  <div ref={ref} className={`scroll ${className ?? ''}`} tabIndex={0} role="region" aria-label={label}>
    {children}
  </div>
);

/** Two surfaces side by side, each scrolling by itself. */
export const Split = ({ left, right, className }: { left: ReactNode; right: ReactNode; className?: string }) => (
  <div className={`${css.split} ${className ?? ''}`}>
    {left}
    {right}
  </div>
);

/** A row of controls, and of words about them. */
export const Toolbar = ({ children, className }: { children: ReactNode; className?: string }) => (
  <div className={`row wrap small ${css.toolbar} ${className ?? ''}`}>{children}</div>
);
