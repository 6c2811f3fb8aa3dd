import css from './Heading.module.css';

export const Heading = ({ children }: { children: React.ReactNode }) => <h2 className={css.heading}>{children}</h2>;
