import { Button } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { seg } from '../api/client';
import { ErrorText, Status } from '../common/ui';
import { ConnectionDesk } from './ConnectionDesk';
import { kindNamed } from './kinds';
import { daysLeft, SOON_DAYS } from './certificate';
import { useCertificates, useConnections, useSecrets } from './queries';
import css from './ConnectionsPage.module.css';
import { fitsLabels, LabelFilter, useAbout } from '../about';
import { useState } from 'react';

export function ConnectionsPage() {
  const { name } = useParams();
  const go = useNavigate();
  const list = useConnections();
  const secrets = useSecrets().data?.secrets.length;
  const about = useAbout();
  const [labels, setLabels] = useState<string[]>([]);
  if (list.isPending) return null;
  const named = list.data?.find((c) => c.name === name);
  const making = name === 'new' || list.data?.length === 0;
  const chosen = making ? undefined : (named ?? (name ? undefined : list.data?.[0]));
  return (
    <div className={css.page}>
      <aside className="side" aria-label="connections">
        <div className="hd row">
          <h1>Connections</h1>
          <Button size="small" className="push" onClick={() => void go('/connections/new')}>
            Add
          </Button>
        </div>
        <div className="hd">
          <LabelFilter kind="connection" chosen={labels} choose={setLabels} />
        </div>
        {list.isError && <ErrorText error={list.error} />}
        {list.data
          ?.filter((c) => fitsLabels(about.of('connection', c.name), labels))
          .map((c) => (
            <button
              key={c.name}
              className={`item ${c === chosen ? 'on' : ''}`}
              onClick={() => void go(`/connections/${seg(c.name)}`)}
            >
              <span className="cut" title={about.of('connection', c.name).description}>
                {c.name}
              </span>
              <span className="soft">{kindNamed(c.kind).short}</span>
            </button>
          ))}
        <h2 className={css.shared}>Shared</h2>
        <Link className="item soft" to="/secrets">
          Secrets <span className="num">{secrets}</span>
        </Link>
        <Link className="item soft" to="/certificates">
          Certificates <EndingSoon />
        </Link>
        {!!chosen?.usedBy.length && (
          <>
            <h2 className={css.shared}>Used by</h2>
            {chosen.usedBy.map((u) => (
              <div key={u} className={`soft small ${css.user}`}>
                {u}
              </div>
            ))}
          </>
        )}
      </aside>
      {making || chosen ? (
        <ConnectionDesk key={chosen?.name ?? 'new'} connection={chosen} />
      ) : (
        <div className={`soft ${css.none}`}>There is no connection named {name}.</div>
      )}
    </div>
  );
}

/** Certificates whose end is near, as a word beside them. */
function EndingSoon() {
  const certificates = useCertificates().data ?? [];
  const [now] = useState(() => Date.now());
  const ending = certificates.filter((c) => daysLeft(c.facts, now) <= SOON_DAYS).length;
  return ending ? <Status mood="warn">{ending === 1 ? '1 ends soon' : `${ending} end soon`}</Status> : null;
}
