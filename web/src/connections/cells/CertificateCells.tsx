import { Checkbox, Select } from 'antd';
import { Link } from 'react-router';
import { Status } from '../../common/ui';
import { daysLeft, SOON_DAYS } from '../certificate';
import { useCertificates } from '../queries';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { useState } from 'react';

/** Whose certificates are believed, beside the system's authorities or instead of them. */
export function TrustCell({ settings, set, of }: CellProps) {
  const known = useCertificates().data ?? [];
  return (
    <span className={css.cell}>
      <Select
        size="small"
        mode="multiple"
        className={css.names}
        aria-label={`trusted certificates${of.replace('-', ' for ')}`}
        placeholder="nobody further"
        value={settings.trust ?? []}
        onChange={(names: string[]) => set({ trust: names.length ? names : undefined })}
        options={known.map((c) => ({ value: c.name, label: c.name }))}
        notFoundContent={<Link to="/certificates">no certificate yet</Link>}
      />
      <Checkbox checked={!settings.trustOnly} onChange={(e) => set({ trustOnly: e.target.checked ? undefined : true })}>
        and the system’s
      </Checkbox>
    </span>
  );
}

/** What we show of ourselves when the service asks. */
export function OwnCertificateCell({ settings, set, of }: CellProps) {
  const ours = (useCertificates().data ?? []).filter((c) => c.isOurs);
  const [now] = useState(() => Date.now());
  const chosen = ours.find((c) => c.name === settings.ownCertificate);
  const days = chosen ? daysLeft(chosen.facts, now) : undefined;
  return (
    <span className={css.cell}>
      <Select
        size="small"
        allowClear
        className={css.names}
        aria-label={`our certificate${of.replace('-', ' for ')}`}
        placeholder="none"
        value={settings.ownCertificate}
        onChange={(name?: string) => set({ ownCertificate: name })}
        options={ours.map((c) => ({ value: c.name, label: c.name }))}
        notFoundContent={<Link to="/certificates">add one with its key first</Link>}
      />
      {days !== undefined && days <= SOON_DAYS && (
        <Status mood={days < 0 ? 'bad' : 'warn'}>{days < 0 ? 'has ended' : `ends in ${days} days`}</Status>
      )}
    </span>
  );
}
