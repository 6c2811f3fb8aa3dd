import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { seg } from '../../../api/client';
import { named, useEnvironment } from '../../../app/environment';
import type { FillView, StepOf } from '../../../api/types';
import { millis } from '../../../common/format';
import { Panel } from '../../../common/Panel';
import { Status, Tabs } from '../../../common/ui';
import { useContracts } from '../../../contracts';
import { PanelHead } from '../../PanelHead';
import { filledWords, lacking, useFilled, type Filling } from '../../fill';
import { useTryCall } from '../../queries';
import type { PanelProps } from '../kind';
import { CallSettings } from './CallSettings';
import { ChooseOperation } from './ChooseOperation';
import { Exchange } from './Exchange';
import css from './CallPanel.module.css';

type Call = StepOf<'call'>;
type Tab = 'fill' | 'exchange' | 'settings';

export const CallPanel = (props: PanelProps<Call>) =>
  props.step.operation ? <Chosen {...props} /> : <ChooseOperation {...props} />;

function Chosen(props: PanelProps<Call>) {
  const { step, edit, remove, where } = props;
  const [tab, setTab] = useState<Tab>('fill');
  const { fill: f, table } = useFilled(props, fillingOf, `${step.contract}/${step.operation}`);
  const tried = useTryCall(where, step.id, () => setTab('exchange'));
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title={step.operation} remove={remove}>
          <Whereto step={step} />
          <TryCall fill={f} connected={!!step.connection} tried={tried} />
        </PanelHead>
      }
      bar={
        <Tabs<Tab>
          value={tab}
          onChange={setTab}
          items={[
            {
              id: 'fill',
              label: (
                <>
                  Fill <span className="num soft">{f ? filledWords(f.rows, f.unfilled, step.fill) : ''}</span>
                </>
              ),
            },
            { id: 'exchange', label: 'Exchange' },
            {
              id: 'settings',
              label: (
                <>
                  Operation and limits
                  {!step.connection && <span className={`st warn ${css.missing}`}>no connection</span>}
                </>
              ),
            },
          ]}
        />
      }
    >
      {tab === 'settings' ? (
        <CallSettings step={step} edit={edit} where={where} />
      ) : tab === 'exchange' ? (
        <Exchange where={where} tried={tried.data} error={tried.error} />
      ) : (
        (table ?? <div />)
      )}
    </Panel>
  );
}

/** The request of the step's operation, as it is filled. */
const fillingOf = (step: Call): Filling => ({
  what: 'message',
  key: [step.contract, step.version, step.port, step.operation, step.fill],
  isReady: !!step.contract && !!step.operation,
  rules: step.fill,
  wish: (kinds) => ({
    contract: step.contract ?? '',
    version: step.version,
    port: step.port,
    operation: step.operation ?? '',
    part: 'request',
    kinds,
    opened: [],
  }),
  connection: step.connection,
  values: step,
});

/** The contract with its version and port, and the connection; a newer version is offered. */
function Whereto({ step }: { step: Call }) {
  const current = useContracts().data?.find((c) => c.name === step.contract)?.version;
  const newer = current && step.version && current > step.version ? current : undefined;
  return (
    <>
      <span className="soft cut">
        {step.contract}
        {step.version ? ` v${step.version}` : ''}
        {step.port ? `, port ${step.port}` : ''}
        {step.connection && (
          <>
            {' '}
            over <Link to={`/connections/${seg(step.connection)}`}>{step.connection}</Link>
          </>
        )}
      </span>
      {newer && (
        <Link
          className="st warn nowrap"
          to={`/contracts/${seg(step.contract ?? '')}?show=changes&from=${step.version}&to=${newer}`}
          title="See what changed, and move this flow to it"
        >
          version {newer} is there
        </Link>
      )}
    </>
  );
}

interface TryProps {
  fill?: FillView;
  connected: boolean;
  tried: ReturnType<typeof useTryCall>;
}

/** Makes the call once. A required row without a value keeps it from being made, and is named. */
function TryCall({ fill, connected, tried }: TryProps) {
  const environment = useEnvironment();
  const open = fill?.unfilled ?? [];
  const t = tried.data;
  const about = open.length
    ? `${lacking(open)} required and not filled`
    : 'Calls once for the specimen and keeps the answer for the next steps';
  return (
    <>
      <Button
        size="small"
        type={open.length === 0 && !t ? 'primary' : 'default'}
        disabled={!connected || open.length > 0}
        loading={tried.isPending}
        onClick={() => tried.mutate()}
        title={about}
      >
        {named('Try the call', environment)}
      </Button>
      {open.length > 0 && <Status mood="warn">{lacking(open)} required</Status>}
      {t && (
        <Status mood={t.failure ? 'bad' : 'ok'}>
          {t.status || t.outcome} <span className="soft num light">{millis(t.micros / 1000)}</span>
        </Status>
      )}
    </>
  );
}
