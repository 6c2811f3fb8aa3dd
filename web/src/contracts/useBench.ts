import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useMemo, useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, BenchAnswer, BenchMessage, OperationView, PastExchange, PortView, Rule } from '../api/types';
import { useEnvironment } from '../app/environment';
import { pretty } from '../common/layout';
import { leadsTo, useConnectionsOf } from '../connections';
import { EMPTY_BENCH, rulesOf, stateOf, type BenchState } from './benchRules';

export type BenchRules = Api<'BenchRules'>;
const READ_MILLIS = 350;

const kept = (key: string): BenchState => {
  try {
    return { ...EMPTY_BENCH, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<BenchState>) };
  } catch {
    return EMPTY_BENCH;
  }
};

/** Where calls go is chosen once for a contract, not for each of its operations; first to where its address leads. */
function useOver(contract: string, port: PortView) {
  const key = `wk.bench.over.1.${contract}`;
  const [wanted, setOver] = useState(() => localStorage.getItem(key));
  useEffect(() => {
    if (wanted !== null) localStorage.setItem(key, wanted);
  }, [key, wanted]);
  const services = useConnectionsOf('soap');
  const isThere = wanted === '' || services.some((c) => c.name === wanted);
  const over = isThere ? (wanted ?? '') : (services.find((c) => leadsTo(c, port.address))?.name ?? '');
  const chosen = services.find((c) => c.name === over);
  return { over, setOver, services, chosen };
}

/** The request on the Bench, as rows or as XML, and the exchange it leads to. */
export function useBench(contract: string, port: PortView, operation: OperationView) {
  const key = `wk.bench.1.${contract}/${port.name}/${operation.name}`;
  const environment = useEnvironment();
  const queries = useQueryClient();
  const [state, setState] = useState<BenchState>(() => kept(key));
  const [xml, setXml] = useState<string | null>(null);
  const [read, setRead] = useState<BenchRules>();
  // What no row takes would be gone with the XML: it is said, and the XML can be had back.
  const [left, setLeft] = useState<{ xml: string; lost: BenchRules['lost'] }>();
  const [past, setPast] = useState<{ at: PastExchange; answer: BenchAnswer }>();
  const over = useOver(contract, port);
  useEffect(() => {
    localStorage.setItem(key, JSON.stringify(state));
  }, [key, state]);
  const rules = useMemo(() => rulesOf(state), [state]);
  const at = { port: port.name, operation: operation.name };
  const request = { ...at, rules };
  const path = `/contracts/${seg(contract)}/bench`;
  const message = useQuery({
    queryKey: ['bench', contract, request],
    queryFn: ({ signal }) => api.post<BenchMessage>(`${path}/message`, request, signal),
    placeholderData: keepPreviousData,
  });
  const send = useMutation({
    mutationFn: () =>
      api.post<BenchAnswer>(`${path}/send`, {
        ...request,
        xml: xml ?? undefined,
        environment,
        connection: over.over || undefined,
      }),
    onSuccess: () => {
      setPast(undefined);
      void queries.invalidateQueries({ queryKey: ['history', contract, port.name, operation.name] });
    },
  });
  const fromXml = (text: string) => api.post<BenchRules>(`${path}/rules`, { ...at, xml: text });
  const example = useMutation({
    mutationFn: (full: boolean) => api.post<{ rules: Rule[] }>(`${path}/example`, { ...at, full }),
    onSuccess: (m) => {
      setState(stateOf(m.rules));
      setXml(null);
    },
  });
  // Rows follow the XML while it is typed; what no row takes is said, and stays as long as the XML is what is sent.
  const follow = useEffectEvent((text: string) => {
    void fromXml(text)
      .then((r) => {
        setRead(r);
        if (!r.problem) setState(stateOf(r.rules));
      })
      .catch(() => undefined);
  });
  useEffect(() => {
    if (xml === null) return undefined;
    const t = setTimeout(() => follow(xml), READ_MILLIS);
    return () => clearTimeout(t);
  }, [xml]);
  const show = async (as: 'rows' | 'xml') => {
    if (as === 'xml') {
      setRead(undefined);
      setXml(left?.xml ?? pretty(message.data?.envelope ?? ''));
      setLeft(undefined);
    } else if (xml !== null) {
      const r = await fromXml(xml);
      setRead(r);
      if (r.problem) return;
      setState(stateOf(r.rules));
      setLeft(r.lost.length ? { xml, lost: r.lost } : undefined);
      setXml(null);
    }
  };
  const open = async (exchange: PastExchange) => {
    const answer = await api.get<BenchAnswer>(`${path}/history/${exchange.id}`);
    const r = await fromXml(answer.request);
    if (!r.problem) setState(stateOf(r.rules));
    setXml(r.problem || r.lost.length ? pretty(answer.request) : null);
    setPast({ at: exchange, answer });
  };
  return {
    environment,
    ...over,
    /** Paths of rows that the connection fills. */
    given: (over.chosen?.environments[environment]?.messageHeaders ?? over.chosen?.settings.messageHeaders ?? []).map(
      (r) => r.path,
    ),
    state,
    edit: (s: BenchState) => {
      setLeft(undefined);
      setState(s);
    },
    rules,
    /** Values from elsewhere take the place of what is typed. */
    take: (given: Rule[]) => {
      setLeft(undefined);
      setState(stateOf(given));
      setXml(null);
    },
    clear: () => {
      setState(EMPTY_BENCH);
      setXml(null);
    },
    xml,
    setXml,
    show,
    open,
    read,
    left,
    past,
    message: message.data,
    problems: message.data?.problems ?? [],
    send,
    example,
  };
}
export type BenchModel = ReturnType<typeof useBench>;
