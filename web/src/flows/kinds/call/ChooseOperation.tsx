import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import type { StepOf } from '../../../api/types';
import { connectionFor, useConnectionsOf } from '../../../connections';
import type { PanelProps } from '../kind';
import { OperationList, type TakenOperation } from '../OperationList';

/** The operations of a contract. Taking one chooses a connection, too; one that had to be made for it is said. */
export function ChooseOperation({ step, edit, remove }: PanelProps<StepOf<'call'>>) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  const services = useConnectionsOf('soap');
  const take = useMutation({
    mutationFn: async ({ contract, version, port, operation: o }: TakenOperation) => {
      const connection = step.connection
        ? { name: step.connection, made: false }
        : await connectionFor(contract, port.address, services);
      if (connection?.made) {
        await queries.invalidateQueries({ queryKey: ['connections'] });
        void message.info(`The connection ${connection.name} was made, to ${port.address}.`, 6);
      }
      // By HTTP's own rule asking twice is then no more than asking once.
      const safeToRepeat = o.http?.idempotent || undefined;
      return { contract, version, port: port.name, operation: o.name, connection: connection?.name, safeToRepeat };
    },
    onSuccess: (taken) => edit((s) => ({ ...s, ...taken })),
  });
  return <OperationList title="Call" contract={step.contract} take={take.mutate} remove={remove} error={take.error} />;
}
