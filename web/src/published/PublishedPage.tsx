import { Button, Input, Segmented } from 'antd';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { EndpointView, TriggerView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { Empty, ErrorText, Status } from '../common/ui';
import { requestOf, useFlows } from '../flows';
import { fresh } from './draft';
import { EndpointEditor } from './EndpointEditor';
import { freshEndpoint, WAYS, WAY_WORDS, wayOf } from './endpoint';
import { Keys } from './Keys';
import { Operations } from './Operations';
import { PublishedList, type Kind } from './PublishedList';
import { useEndpoints, useTriggers } from './queries';
import { ScheduleEditor } from './ScheduleEditor';
import css from './PublishedPage.module.css';

const NEW = 'new';

/** What starts flows without anybody pressing a button, and the one that is open below. */
export function PublishedPage() {
  const triggers = useTriggers();
  const endpoints = useEndpoints();
  if (triggers.isPending || endpoints.isPending) return null;
  if (triggers.isError || endpoints.isError)
    return (
      <div className="page">
        <ErrorText error={triggers.error ?? endpoints.error} />
      </div>
    );
  return <Published schedules={triggers.data} endpoints={endpoints.data} now={triggers.dataUpdatedAt} />;
}

interface Props {
  schedules: TriggerView[];
  endpoints: EndpointView[];
  now: number;
}

function Published({ schedules, endpoints, now }: Props) {
  const { name } = useParams();
  const [query] = useSearchParams();
  const add = name === NEW ? 'schedule' : query.get('add');
  const [kind, setKind] = useState<Kind>('all');
  const [narrow, setNarrow] = useState('');
  const isNone = schedules.length + endpoints.length === 0;
  if (isNone && !add)
    return (
      <Empty title="Nothing is published yet">
        <p>
          Others can ask a flow, or an operation of a contract, over HTTP with JSON, or by SOAP; colleagues ask it on a
          page. A flow can take messages of a queue, files of a folder, or new rows of a query; a schedule runs it at
          times of the clock, or every so many minutes.
        </p>
        <Add />
      </Empty>
    );
  const kinds = [
    { value: 'all' as const, word: 'all', count: schedules.length + endpoints.length },
    ...WAYS.map((w) => ({ value: w, word: WAY_WORDS[w], count: endpoints.filter((e) => e[w]).length })),
    { value: 'schedule' as const, word: 'schedules', count: schedules.length },
  ];
  const failing = endpoints.filter((e) => e.state === 'failed').length;
  return (
    <div className={`page ${css.page}`}>
      <div className="head wrap">
        <h1>Published</h1>
        <Segmented<Kind>
          size="small"
          aria-label="kind"
          value={kind}
          onChange={setKind}
          options={kinds.filter((k) => k.count > 0 || k.value === kind).map(optionOf)}
        />
        <Input
          size="small"
          className={css.narrow}
          aria-label="narrow"
          placeholder="narrow"
          value={narrow}
          onChange={(e) => setNarrow(e.target.value)}
        />
        {failing > 0 && <Status mood="bad">{failing} failing</Status>}
        <span className="push" />
        <Link className="soft nowrap" to="/published?add=keys">
          keys
        </Link>
        <a className="soft nowrap" href="/api/endpoints/openapi" target="_blank" rel="noreferrer">
          OpenAPI
        </a>
        <a className="soft nowrap" href="/http/" target="_blank" rel="noreferrer">
          callers’ page
        </a>
        <Add />
      </div>
      {!isNone && (
        <PublishedList
          schedules={kind === 'all' || kind === 'schedule' ? schedules : []}
          endpoints={endpoints.filter((e) => kind === 'all' || kind === wayOf(e))}
          narrow={narrow}
          open={name}
          now={now}
        />
      )}
      <Below add={add} name={name} schedules={schedules} endpoints={endpoints} />
    </div>
  );
}

const optionOf = ({ value, word, count }: { value: Kind; word: string; count: number }) => ({
  value,
  label: `${word} ${count}`,
});

/** What is open below the list. */
function Below({ add, name, schedules, endpoints }: Omit<Props, 'now'> & { add: string | null; name?: string }) {
  const environment = useEnvironment();
  const [query] = useSearchParams();
  const taken = [NEW, ...schedules.map((t) => t.name), ...endpoints.map((e) => e.name)];
  const schedule = schedules.find((t) => t.name === name);
  const endpoint = endpoints.find((e) => e.name === name);
  const flows = useFlows().data;
  const flow = flows?.find((f) => f.id === Number(query.get('flow')));
  if (add === 'keys') return <Keys endpoints={endpoints.filter((e) => e.http ?? e.soap)} />;
  if (add === 'operations')
    return <Operations key={query.get('contract')} contract={query.get('contract') ?? undefined} />;
  if (add === 'endpoint') {
    const begin = freshEndpoint(environment, flow?.id, flow?.name, flow && requestOf(flow.definition)?.operation);
    return <EndpointEditor key={`new ${flow?.id}`} begin={begin} taken={taken} />;
  }
  if (add === 'schedule') return <ScheduleEditor key={NEW} begin={fresh(environment)} taken={taken} />;
  if (schedule) return <ScheduleEditor key={schedule.name} kept={schedule} />;
  return endpoint ? <EndpointEditor key={endpoint.name} kept={endpoint} /> : null;
}

/** The ways to publish something. */
function Add() {
  const go = useNavigate();
  return (
    <span className={`row ${css.add}`}>
      <Button type="primary" onClick={() => void go('/published?add=endpoint')}>
        Publish a flow
      </Button>
      <Button onClick={() => void go('/published?add=operations')}>Publish operations</Button>
      <Button onClick={() => void go(`/published/${NEW}`)}>Add a schedule</Button>
    </span>
  );
}
