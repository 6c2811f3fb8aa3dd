import { Link } from 'react-router';
import type { Api } from '../api/types';
import { millis } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { kindNamed } from './kinds';
import css from './ProbePanel.module.css';
import { ProbeOperation } from './ProbeOperation';
import { ProbeWay } from './ProbeWay';
import type { ConnectionDraft, Probed } from './useConnectionDraft';

/** What probes found, the latest first. */
export function ProbePanel({ d, isKept }: { d: ConnectionDraft; isKept: boolean }) {
  return (
    <aside className={`scroll ${css.panel}`} aria-label="probes">
      {d.probe.isError && <ErrorText error={d.probe.error} />}
      {d.trust.isError && <ErrorText error={d.trust.error} />}
      {d.probes.map((p) => (
        <Found key={p.environment} d={d} probe={p} />
      ))}
      {!d.probes.length && !d.probe.isPending && (
        <div className="soft small">
          <p>{kindNamed(d.kind).probe}</p>
          {!isKept && <p>Keep the connection first.</p>}
          <p>
            Secrets have names and are kept encrypted: <Link to="/secrets">all secrets</Link>.
          </p>
        </div>
      )}
    </aside>
  );
}

function Found({ d, probe }: { d: ConnectionDraft; probe: Probed }) {
  const at = new Date(probe.at).toLocaleTimeString('en-GB');
  return (
    <section className={css.found} aria-label={`probe of ${probe.environment}`}>
      <div className="row">
        <h2>Probe of {probe.environment}</h2>
        <span className="soft num small push">
          {at}
          {probe.micros != null ? `, ${millis(probe.micros / 1000)}` : ''}
        </span>
      </div>
      {probe.way ? (
        <ProbeWay
          way={probe.way}
          where={`in ${probe.environment}`}
          trust={(pem) => d.trust.mutate({ environment: probe.environment, pem })}
          trusting={d.trust.isPending}
        />
      ) : (
        <Answer probe={probe} />
      )}
      {probe.way?.isGood && <ProbeOperation connection={d.name.trim()} environment={probe.environment} />}
    </section>
  );
}

const Answer = ({ probe }: { probe: Api<'Probe'> }) => (
  <>
    <p className={css.answer}>
      <Status mood={!probe.good ? 'bad' : probe.warning ? 'warn' : 'ok'}>{probe.text}</Status>
    </p>
    {probe.warning && <div className="notice warn">{probe.warning}</div>}
  </>
);
