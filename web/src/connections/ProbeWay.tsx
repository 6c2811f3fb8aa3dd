import { Button, Input, Popconfirm } from 'antd';
import { useState } from 'react';
import type { Api } from '../api/types';
import { millis, plural } from '../common/format';
import { Status, type Mood } from '../common/ui';
import { agreement, daysLeft, grouped, SOON_DAYS } from './certificate';
import css from './ProbeWay.module.css';

type Way = Api<'Way'>;
type Facts = Api<'Facts'>;

const MOODS: Record<Api<'Stage'>['found'], Mood> = { GOOD: 'ok', WARNING: 'warn', STOPS: 'bad', NOT_REACHED: 'idle' };

interface Props {
  way: Way;
  /** Where the issuer would be trusted, in words. */
  where: string;
  /** Absent where nothing can be trusted from. */
  trust?: (pem: string) => void;
  trusting?: boolean;
}

/** The way of a call, stage by stage, as far as it could be gone; where it ends, what to do. */
export function ProbeWay({ way, where, trust, trusting }: Props) {
  return (
    <ol className={css.way} aria-label="stages of the probe">
      {way.stages.map((s) => (
        <li key={s.name} className={`${css.stage} ${s.found === 'NOT_REACHED' ? css.off : ''}`}>
          <b className={css.name}>{s.name}</b>
          <span className={css.found}>
            <Status mood={MOODS[s.found]}>{s.found === 'NOT_REACHED' ? 'not reached' : s.text}</Status>
            {s.todo && <div className="soft small">{s.todo}</div>}
          </span>
          <span className="soft num small">{s.micros != null ? millis(s.micros / 1000) : ''}</span>
          {s.name === 'TLS' && way.chain.length > 0 && (
            <details className={css.chain} open={s.found === 'STOPS'}>
              <summary className="soft small">{plural(way.chain.length, 'certificate')}</summary>
              <Chain way={way} where={where} trust={trust} trusting={trusting} />
            </details>
          )}
        </li>
      ))}
    </ol>
  );
}

/** The certificates that the service shows, and whether to believe whoever issued them. */
function Chain({ way, where, trust, trusting }: Props) {
  const top = way.chain[way.chain.length - 1];
  return (
    <div className={css.box}>
      {way.chain.map((c, i) => (
        <Certificate key={c.sha256} facts={c} no={i + 1} of={way.chain.length} />
      ))}
      {trust && !way.isBelieved && (
        <Trust key={top.sha256} facts={top} own={way.chain[0]} where={where} trust={trust} trusting={trusting} />
      )}
    </div>
  );
}

/** Until when a certificate counts. */
export function Until({ facts }: { facts: Facts }) {
  const [now] = useState(() => Date.now());
  const days = daysLeft(facts, now);
  const day = new Date(facts.until).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
  return (
    <Status mood={days < 0 ? 'bad' : days <= SOON_DAYS ? 'warn' : 'ok'}>
      {days < 0 ? `ended ${day}` : `until ${day}, ${days} days`}
    </Status>
  );
}

function Certificate({ facts: c, no, of }: { facts: Facts; no: number; of: number }) {
  return (
    <dl className={css.certificate}>
      <dt className="num">{no}</dt>
      <dt>{no === 1 ? 'service' : 'issuer'}</dt>
      <dd>
        <b>{c.subject}</b>
        {c.isOwnIssuer ? <span className="soft">, signs itself</span> : <span className="soft"> by {c.issuer}</span>}
      </dd>
      {c.names.length > 0 && (
        <>
          <dt>names</dt>
          <dd>{c.names.join(', ')}</dd>
        </>
      )}
      <dt>valid</dt>
      <dd>
        <Until facts={c} />
      </dd>
      {no === of && (
        <>
          <dt>SHA-256</dt>
          <dd className={`mono small ${css.print} ${css.below}`}>{grouped(c.sha256)}</dd>
        </>
      )}
    </dl>
  );
}

/** What is pasted is compared; who trusts without comparing is asked. */
function Trust({ facts, own, where, trust, trusting }: Omit<Props, 'way'> & { facts: Facts; own: Facts }) {
  const [told, setTold] = useState('');
  const found = agreement(facts.sha256, told);
  const isIssuer = facts.isAuthority || facts.isOwnIssuer;
  const what = isIssuer ? 'issuer' : 'certificate';
  const button = (
    <Button type={found?.isSame ? 'primary' : 'default'} loading={trusting} disabled={!!found && !found.isSame}>
      Trust this {what} {where}
    </Button>
  );
  return (
    <div className={css.trust}>
      <label className="small" htmlFor="told">
        The fingerprint that the people of the service tell you
      </label>
      <div className="row">
        <Input
          id="told"
          className="mono"
          placeholder="paste it: it is compared byte by byte"
          value={told}
          onChange={(e) => setTold(e.target.value)}
        />
        {found && (
          <Status mood={found.isSame ? 'ok' : 'bad'}>
            {found.equal} of {found.of}
          </Status>
        )}
      </div>
      <div className={`row ${css.deeds}`}>
        {found?.isSame ? (
          <span onClickCapture={() => trust?.(facts.pem)}>{button}</span>
        ) : (
          <Popconfirm
            title="Nobody has compared the fingerprint"
            description="Whoever stands between could have shown this certificate. Trust it all the same?"
            okText="Trust it"
            onConfirm={() => trust?.(facts.pem)}
          >
            {button}
          </Popconfirm>
        )}
        {isIssuer && own.sha256 !== facts.sha256 && (
          <button className="link soft small" onClick={() => trust?.(own.pem)}>
            only the service’s own certificate
          </button>
        )}
      </div>
    </div>
  );
}
