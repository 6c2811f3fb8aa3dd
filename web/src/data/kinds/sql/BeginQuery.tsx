import { Button } from 'antd';
import { Link } from 'react-router';
import { useConnectionsOf } from '../../../connections';
import type { BeginProps } from '../kind';
import css from './QuerySource.module.css';

/** The databases there are, to query one. */
export const BeginQuery = ({ begin }: BeginProps) => {
  const databases = useConnectionsOf('database');
  return (
    <p className="soft">
      Or read from a database:{' '}
      {databases.map((d) => (
        <Button key={d.name} size="small" className={css.action} onClick={() => begin({ connection: d.name })}>
          query {d.name}
        </Button>
      ))}
      {databases.length === 0 && <Link to="/connections/new">add a database connection</Link>}
    </p>
  );
};
