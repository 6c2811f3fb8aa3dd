import { Button } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { seg } from '../api/client';
import { ErrorText, Status } from '../common/ui';
import { ConnectionEditor } from './ConnectionEditor';
import { kindNamed } from './kinds';
import { daysLeft, SOON_DAYS } from './certificate';
import { useCertificates, useConnections } from './queries';
import css from './ConnectionsPage.module.css';
import { fitsLabels, LabelFilter, useAbout } from '../about';
import { useState } from 'react';

export function ConnectionsPage() {
  const { name } = useParams();
  const go = useNavigate();
  const list = useConnections();
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
        <Link className={`item soft ${css.shared}`} to="/certificates">
          Certificates <EndingSoon />
        </Link>
      </aside>
      <section className={`scroll ${css.body}`} aria-label="connection">
        {making || chosen ? (
          <ConnectionEditor key={chosen?.name ?? 'new'} connection={chosen} />
        ) : (
          <div className="soft">There is no connection named {name}.</div>
        )}
      </section>
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
