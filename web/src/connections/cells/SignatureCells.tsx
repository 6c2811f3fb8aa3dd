import { InputNumber, Select } from 'antd';
import { Link } from 'react-router';
import { useCertificates } from '../queries';
import type { CellProps } from './cell';
import css from './cells.module.css';

const PARTS = ['body', 'timestamp', 'token', 'addressing'];
const REFERENCES = [
  { value: '', label: 'the certificate in it' },
  { value: 'issuer', label: 'issuer and number' },
  { value: 'identifier', label: 'key identifier' },
];
const ANSWERS = [
  { value: '', label: 'not looked at' },
  { value: 'present', label: 'checked where present' },
  { value: 'required', label: 'required' },
];

/** Which parts of requests are signed (X.509), with which key, and how messages name it. */
export function SignatureCell({ settings, set, of }: CellProps) {
  const ours = (useCertificates().data ?? []).filter((c) => c.isOurs);
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <Select
        size="small"
        mode="multiple"
        className={css.names}
        aria-label={`signed parts${whose}`}
        placeholder="nothing is signed"
        value={settings.signedParts ?? []}
        options={PARTS.map((value) => ({ value, label: value }))}
        onChange={(parts: string[]) => set({ signedParts: parts.length ? parts : undefined })}
      />
      {!!settings.signedParts?.length && (
        <>
          <span className="soft small">with</span>
          <Select
            size="small"
            allowClear
            className={css.contract}
            aria-label={`certificate that signs${whose}`}
            placeholder={settings.ownCertificate ?? 'choose one'}
            value={settings.signingCertificate}
            options={ours.map((c) => ({ value: c.name, label: c.name }))}
            notFoundContent={<Link to="/certificates">add one with its key first</Link>}
            onChange={(signingCertificate?: string) => set({ signingCertificate })}
          />
          <span className="soft small">named by</span>
          <Select
            size="small"
            className={css.contract}
            aria-label={`how the key is named${whose}`}
            value={settings.keyReference ?? ''}
            options={REFERENCES}
            onChange={(v: string) => set({ keyReference: v || undefined })}
          />
        </>
      )}
    </span>
  );
}

/** Whether signatures and timestamps of answers are checked. */
export function SignedAnswersCell({ settings, set, of }: CellProps) {
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <Select
        size="small"
        className={css.names}
        aria-label={`signatures of answers${whose}`}
        value={settings.signedAnswers ?? ''}
        options={ANSWERS}
        onChange={(v: string) => set({ signedAnswers: v || undefined })}
      />
      {settings.signedAnswers && (
        <>
          <span className="soft small">clocks apart at most</span>
          <InputNumber
            size="small"
            min={0}
            className={css.number}
            aria-label={`seconds that clocks may be apart${whose}`}
            placeholder="300"
            value={settings.skewSeconds}
            onChange={(v) => set({ skewSeconds: v ?? undefined })}
          />
          <span className="soft small">seconds; its signer is believed as issuers are, above</span>
        </>
      )}
    </span>
  );
}
