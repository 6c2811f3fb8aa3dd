import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useNavigate } from 'react-router';
import { api, seg } from '../../api/client';
import type { Api, BenchAnswer, FillView, Format, PortView, Rule, StepOf } from '../../api/types';
import { freeName } from '../../common/freeName';
import { connectionFor, useConnectionsOf } from '../../connections';
import { useFlows } from '../queries';
import { firstFill, flowOf, type Parts } from './plan';

/** The exchange of the Bench that a flow is made from: what was typed becomes its first fill, the answer is kept. */
export function useExchange(contract: string, port: string, operation: string, id: string | null) {
  return useQuery({
    queryKey: ['make-from', contract, id],
    enabled: !!id,
    queryFn: async () => {
      const bench = `/contracts/${seg(contract)}/bench`;
      const answer = await api.get<BenchAnswer>(`${bench}/history/${id}`);
      const read = await api.post<Api<'BenchRules'>>(`${bench}/rules`, { port, operation, xml: answer.request });
      return { answer: answer.tree?.[0], rules: read.rules };
    },
  });
}

/** The fill that the source suggests, before there is a flow. */
export function useFirstFill(call: Parts['call'], source: string | undefined, environment: string, typed: Rule[]) {
  return useQuery({
    queryKey: ['first-fill', call.contract, call.port, call.operation, source, environment, typed],
    enabled: !!source,
    retry: false,
    queryFn: async () => {
      const ask = (fill: Rule[]) => {
        const definition = flowOf({ source: source ?? '', call: { ...call, fill } });
        return api.post<FillView>('/design/fill', { flow: 0, definition, step: 's2', environment, number: 1 });
      };
      const rules = firstFill(await ask([]), typed);
      return { rules, view: await ask(rules) };
    },
  });
}

const FORMAT: Format = { delimiter: ';', quote: '"', encoding: 'UTF-8', header: true };

export interface Wish {
  contract: string;
  version: number;
  port: PortView;
  operation: string;
  source: string;
  fill: Rule[];
  pick?: Pick<StepOf<'pick'>, 'each' | 'columns'>;
  /** A target that is there, or the file to make one of; none when results go nowhere. */
  target: { name: string } | { file: string } | undefined;
  exchange: string | null;
}

/** Makes the flow with all it needs, says what else was made, and goes there. */
export function useMaking() {
  const go = useNavigate();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const services = useConnectionsOf('soap');
  const names = useFlows().data?.map((f) => f.name) ?? [];
  return useMutation({
    mutationFn: async (w: Wish) => {
      const said: string[] = [];
      const connection = await connectionFor(w.contract, w.port.address, services);
      if (connection?.made) said.push(`the connection ${connection.name}, to ${w.port.address}`);
      let target: string | undefined;
      if (w.target && 'file' in w.target) {
        target = w.target.file.replace(/\.\w+$/, '');
        const settings = {
          file: w.target.file,
          replace: false,
          columns: w.pick?.columns.map((c) => c.name),
          format: FORMAT,
        };
        await api.put(`/data/targets/${seg(target)}`, { kind: 'csv', settings });
        said.push(`the target ${target}, a file that runs add to`);
      } else target = w.target?.name;
      const call = {
        contract: w.contract,
        version: w.version,
        port: w.port.name,
        operation: w.operation,
        connection: connection?.name,
        fill: w.fill,
      };
      const definition = flowOf({ source: w.source, call, pick: w.pick, target });
      const flow = await api.post<{ id: number }>('/flows', { name: freeName(w.operation, names), definition });
      if (w.exchange) await api.post(`/design/${flow.id}/answers/s2/from/${seg(w.contract)}/${w.exchange}`);
      return { id: flow.id, said };
    },
    onSuccess: async ({ id, said }) => {
      await queries.invalidateQueries();
      if (said.length) void message.info(`Made with it: ${said.join('; ')}.`, 8);
      void go(`/flows/${id}?step=s2`);
    },
  });
}
