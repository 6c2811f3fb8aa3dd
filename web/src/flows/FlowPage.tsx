import { useParams } from 'react-router';
import { ErrorText } from '../common/ui';
import { Designer } from './Designer';
import { useFlow } from './queries';

export function FlowPage() {
  const id = Number(useParams().id);
  const flow = useFlow(id);
  if (flow.isPending) return null;
  if (flow.isError)
    return (
      <div className="page">
        <ErrorText error={flow.error} />
      </div>
    );
  return <Designer key={id} view={flow.data} />;
}
