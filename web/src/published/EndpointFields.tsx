import { Button, Checkbox, Input, InputNumber, Segmented, Select } from 'antd';
import { Link } from 'react-router';
import type {
  EndpointView,
  Flow,
  FolderTrigger,
  HttpTrigger,
  Input as FlowInput,
  QueueTrigger,
  RowsTrigger,
  RunTrigger,
  SoapTrigger,
} from '../api/types';
import { useConnectionsOf } from '../connections';
import { Field } from '../common/Field';
import { Status } from '../common/ui';
import { requestOf, useFlows } from '../flows';
import {
  askedBy,
  METHODS,
  pathOf,
  placed,
  placeOf,
  typeWords,
  wayOf,
  wordOf,
  type EndpointDraft,
  type Way,
  type Where,
} from './endpoint';
import { AfterRuns } from './AfterRuns';
import { EnvironmentField } from './EnvironmentField';
import { KeysOf } from './Keys';
import { FromFolder } from './FromFolder';
import { FromQueue } from './FromQueue';
import { FromRows } from './FromRows';
import { Parts } from './Parts';
import { freshPage } from './page';
import { Service } from './Service';
import { ThePage } from './ThePage';
import css from './EndpointFields.module.css';

const NONE: Flow = { format: 2, steps: [] };

interface Props {
  draft: EndpointDraft;
  set: (by: Partial<EndpointDraft>) => void;
  kept?: EndpointView;
  inputs: FlowInput[];
}

/** Where it is asked, what with, and what is answered when it fails. */
export function EndpointFields({ draft, set, kept, inputs }: Props) {
  const { http, soap, queue, folder, rows, after, page } = draft;
  const flow = useFlows().data?.find((f) => f.id === draft.flow);
  const request = flow && requestOf(flow.definition);
  const byHttp = (change: Partial<HttpTrigger>) => http && set({ http: { ...http, ...change } });
  const byQueue = (change: Partial<QueueTrigger>) => queue && set({ queue: { ...queue, ...change } });
  const byFolder = (change: Partial<FolderTrigger>) => folder && set({ folder: { ...folder, ...change } });
  const byRows = (change: Partial<RowsTrigger>) => rows && set({ rows: { ...rows, ...change } });
  const byAfter = (change: Partial<RunTrigger>) => after && set({ after: { ...after, ...change } });
  const bySoap = (change: Partial<SoapTrigger>) => soap && set({ soap: { ...soap, ...change } });
  return (
    <div className={css.body}>
      {!kept && <HowAsked draft={draft} set={set} />}
      {!kept && <Which draft={draft} set={set} isKept={false} />}
      {http && <Address http={http} by={byHttp} />}
      {soap && <Service soap={soap} by={bySoap} kept={kept} isFixed={!!request} />}
      {queue && <FromQueue queue={queue} by={byQueue} environment={draft.environment} />}
      {folder && <FromFolder folder={folder} by={byFolder} path={kept?.url} />}
      {rows && <FromRows rows={rows} by={byRows} reached={kept?.reached} />}
      {after && <AfterRuns after={after} by={byAfter} />}
      {page && <ThePage draft={draft} page={page} set={set} kept={kept} />}
      {kept && <Which draft={draft} set={set} isKept />}
      {kept && http && <Parameters http={http} inputs={inputs} set={(to) => set({ http: to })} />}
      {kept && queue && !request && (
        <Parts of={queue} inputs={inputs} set={(to) => set({ queue: to })} what="a message" />
      )}
      {kept && folder && !request && (
        <Parts of={folder} inputs={inputs} set={(to) => set({ folder: to })} what="a file" />
      )}
      {http && <Replies http={http} by={byHttp} />}
      {http && <More of={http} by={byHttp} />}
      {http && <WhoMay open={http.open} set={(open) => byHttp({ open })} />}
      {http && <Origins http={http} by={byHttp} />}
      {soap && <More of={soap} by={bySoap} />}
      {soap && <WhoMay open={soap.open} set={(open) => bySoap({ open })} />}
      {queue && <More of={queue} by={byQueue} />}
      {folder && <More of={folder} by={byFolder} />}
      {kept &&
        (kept.http ?? kept.soap) &&
        ((kept.http ?? kept.soap)?.open ? <Open /> : <KeysOf endpoint={kept.name} />)}
    </div>
  );
}

/** By requests, messages, files, rows, runs that end, or on a page. */
function HowAsked({ draft, set }: Pick<Props, 'draft' | 'set'>) {
  const flow = useFlows().data?.find((f) => f.id === draft.flow);
  const brokers = useConnectionsOf('queue');
  const only = brokers.length === 1 ? brokers[0].name : undefined;
  return (
    <Segmented<Way>
      size="small"
      aria-label="how it is asked"
      value={wayOf(draft)}
      onChange={(way) =>
        set(askedBy(draft, way, flow?.name ?? draft.name, flow && requestOf(flow.definition)?.operation, only))
      }
      options={[
        { value: 'http', label: 'HTTP' },
        { value: 'soap', label: 'SOAP' },
        { value: 'queue', label: 'messages' },
        { value: 'folder', label: 'files' },
        { value: 'rows', label: 'rows' },
        { value: 'after', label: 'after runs' },
        { value: 'page', label: 'a page' },
      ]}
    />
  );
}

function Address({ http, by }: { http: HttpTrigger; by: (change: Partial<HttpTrigger>) => void }) {
  return (
    <div className={css.address}>
      <Select
        aria-label="method"
        className={css.method}
        value={http.method}
        onChange={(method) => by({ method })}
        options={METHODS.map((m) => ({ value: m, label: m }))}
      />
      <Input
        aria-label="path"
        className="mono"
        addonBefore="/http"
        value={http.path}
        onChange={(e) => by({ path: e.target.value })}
      />
    </div>
  );
}

const Open = () => (
  <p className="soft small">
    <Status mood="warn">anybody may ask</Status> who reaches this server.
  </p>
);

function Which({ draft, set, isKept }: { draft: EndpointDraft; set: Props['set']; isKept: boolean }) {
  const flows = useFlows().data;
  const asked = flows?.filter((f) => f.definition.steps.some((s) => s.kind === 'receive'));
  const choose = (flow: number) => {
    const name = flows?.find((f) => f.id === flow)?.name ?? '';
    const isFresh = !draft.name.trim();
    const operation = requestOf(flows?.find((f) => f.id === flow)?.definition ?? NONE)?.operation;
    set({
      flow,
      name: isFresh ? name : draft.name,
      http: draft.http && (draft.http.path.length < 2 ? { ...draft.http, path: pathOf(name) } : draft.http),
      page: draft.page && !draft.page.page ? freshPage(name, draft.page.open) : draft.page,
      soap: draft.soap && {
        ...draft.soap,
        service: draft.soap.service || wordOf(name),
        operation: operation ?? (draft.soap.operation || wordOf(name)),
      },
    });
  };
  return (
    <div className={css.pair}>
      <Field label="Answers with the flow" id="endpoint-flow">
        <Select
          id="endpoint-flow"
          aria-label="flow"
          showSearch={{ optionFilterProp: 'label' }}
          className={css.wide}
          placeholder="choose a flow"
          value={draft.flow}
          onChange={choose}
          options={asked?.map((f) => ({ value: f.id, label: f.name }))}
        />
        {asked?.length === 0 && (
          <span className="soft small">
            No flow begins with Receive yet: make <Link to="/flows">one that others ask</Link>.
          </span>
        )}
      </Field>
      {!isKept && (
        <Field label="Name" id="endpoint-name">
          <Input id="endpoint-name" value={draft.name} onChange={(e) => set({ name: e.target.value })} />
        </Field>
      )}
      <EnvironmentField
        id="endpoint-environment"
        value={draft.environment}
        set={(environment) => set({ environment })}
      />
    </div>
  );
}

const PLACES: { value: Where; label: string }[] = [
  { value: 'PATH', label: 'path' },
  { value: 'QUERY', label: 'query' },
  { value: 'HEADER', label: 'header' },
  { value: 'BODY', label: 'body' },
];

function Parameters({ http, inputs, set }: { http: HttpTrigger; inputs: FlowInput[]; set: (to: HttpTrigger) => void }) {
  return (
    <div>
      <span className="field-label">Parameters: inputs of the flow</span>
      <div className={css.table}>
        <table className="grid fixed">
          <colgroup>
            <col />
            <col className={css.place} />
            <col className={css.as} />
            <col className={css.as} />
          </colgroup>
          <tbody>
            {inputs.map((i) => (
              <Parameter key={i.name} http={http} of={i} set={set} />
            ))}
            {inputs.length === 0 && (
              <tr>
                <td colSpan={4} className="soft">
                  The flow takes nothing.
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Parameter({ http, of: i, set }: { http: HttpTrigger; of: FlowInput; set: (to: HttpTrigger) => void }) {
  const at = placeOf(http, i.name);
  return (
    <tr>
      <td>
        <span className="mono">{i.name}</span>
        <div className="faint small">{typeWords(i)}</div>
      </td>
      <td>
        <Select
          size="small"
          aria-label={`where ${i.name} comes from`}
          className={css.wide}
          value={at.in}
          onChange={(to) => set(placed(http, i.name, { ...at, in: to }))}
          options={PLACES}
        />
      </td>
      <td>
        {(at.in === 'HEADER' || at.in === 'QUERY') && (
          <Input
            size="small"
            className="mono"
            aria-label={`name of ${i.name} there`}
            value={at.name}
            onChange={(e) => set(placed(http, i.name, { ...at, name: e.target.value }))}
          />
        )}
      </td>
      <td className={`soft small ${css.else}`}>
        {i.otherwise ? <>else {i.otherwise}</> : i.required ? 'required' : ''}
      </td>
    </tr>
  );
}

/** What is answered when nothing else is said. */
const USUAL: [number, string][] = [
  [200, 'the reply of the flow'],
  [400, 'values that do not fit, all listed'],
  [422, 'the flow could not do it'],
  [502, 'a fault, or an answer that fails'],
  [503, 'not reachable'],
  [504, 'no answer in time'],
];

function Replies({ http, by }: { http: HttpTrigger; by: (change: Partial<HttpTrigger>) => void }) {
  const rules = http.replies ?? [];
  const change = (n: number, to: Partial<(typeof rules)[number]>) =>
    by({ replies: rules.map((r, i) => (i === n ? { ...r, ...to } : r)) });
  return (
    <div>
      <span className="field-label">Replies by outcome</span>
      <div className={css.table}>
        <table className="grid">
          <tbody>
            {rules.map((r, n) => (
              <tr key={n}>
                <td className={css.status}>
                  <InputNumber
                    size="small"
                    aria-label={`status ${n + 1}`}
                    min={400}
                    max={599}
                    value={r.status}
                    onChange={(status) => change(n, { status: status ?? 422 })}
                  />
                </td>
                <td>
                  <Input
                    size="small"
                    className="mono"
                    aria-label={`failures ${n + 1}`}
                    placeholder="fault UnknownPort, no answer"
                    value={r.codes.join(', ')}
                    onChange={(e) => change(n, { codes: e.target.value.split(',').map((c) => c.trimStart()) })}
                  />
                </td>
                <td className={css.drop}>
                  <button
                    className="link soft"
                    aria-label={`remove rule ${n + 1}`}
                    onClick={() => by({ replies: rules.filter((_, i) => i !== n) })}
                  >
                    ×
                  </button>
                </td>
              </tr>
            ))}
            {USUAL.map(([status, text]) => (
              <tr key={status}>
                <td className={`num ${css.status}`}>{status}</td>
                <td colSpan={2} className="soft">
                  {text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button
        size="small"
        className={css.more}
        onClick={() => by({ replies: [...rules, { codes: ['fault '], status: 404 }] })}
      >
        Add a rule
      </Button>
    </div>
  );
}

type Common = Pick<HttpTrigger, 'text' | 'maxBodyBytes'>;

/** What all ways have. */
function More<T extends Common>({ of, by }: { of: T; by: (change: Partial<Common>) => void }) {
  return (
    <div className={css.pair}>
      <Field label="What it is for" id="endpoint-text">
        <Input id="endpoint-text" value={of.text ?? ''} onChange={(e) => by({ text: e.target.value || undefined })} />
      </Field>
      <Field label="Largest body, in bytes" id="endpoint-body">
        <InputNumber
          id="endpoint-body"
          min={1}
          max={32_000_000}
          value={of.maxBodyBytes ?? 1_000_000}
          onChange={(n) => by({ maxBodyBytes: n ?? undefined })}
        />
      </Field>
    </div>
  );
}

const WhoMay = ({ open, set }: { open?: boolean; set: (open: boolean) => void }) => (
  <Field label="Who may ask">
    <Checkbox checked={!!open} onChange={(e) => set(e.target.checked)}>
      anybody, without a key
    </Checkbox>
  </Field>
);

function Origins({ http, by }: { http: HttpTrigger; by: (change: Partial<HttpTrigger>) => void }) {
  return (
    <Field label="Pages that may ask from a browser" id="endpoint-origins">
      <Input
        id="endpoint-origins"
        className="mono"
        placeholder="https://desk.gannet.example"
        value={(http.origins ?? []).join(', ')}
        onChange={(e) => by({ origins: e.target.value.split(/[,\s]+/).filter((o) => o) })}
      />
    </Field>
  );
}
