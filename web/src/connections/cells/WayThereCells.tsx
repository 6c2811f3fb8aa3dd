import { Input, Select } from 'antd';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { DurationInput } from './DurationInput';
import { SecretInput } from './SecretCell';

/** How long to wait, for what. */
export function TimeOutsCell({ settings, set, of }: CellProps) {
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <span className="soft small">connect</span>
      <DurationInput
        label={`time to connect${whose}`}
        placeholder="5 s"
        value={settings.connectTimeoutMillis}
        set={(v) => set({ connectTimeoutMillis: v })}
      />
      <span className="soft small">silence</span>
      <DurationInput
        label={`time without a sign of an answer${whose}`}
        placeholder="30 s"
        value={settings.answerTimeoutMillis}
        set={(v) => set({ answerTimeoutMillis: v })}
      />
      <span className="soft small">whole call</span>
      <DurationInput
        label={`time for a whole call${whose}`}
        placeholder="30 s"
        value={settings.callTimeoutMillis}
        set={(v) => set({ callTimeoutMillis: v })}
      />
    </span>
  );
}

/** A proxy, with its own log-in and the hosts that are called without it. */
export function ProxyCell({ settings, set, of, secrets }: CellProps) {
  const whose = of.replace('-', ' for ');
  return (
    <span className={css.cell}>
      <Input
        size="small"
        className={`mono ${css.text}`}
        aria-label={`proxy${whose}`}
        placeholder="proxy.example:3128"
        value={settings.proxy ?? ''}
        onChange={(e) => set({ proxy: e.target.value || undefined })}
      />
      <span className="soft small">not for</span>
      <Select
        size="small"
        mode="tags"
        className={css.names}
        aria-label={`hosts without the proxy${whose}`}
        placeholder="host or .domain"
        tokenSeparators={[',', ' ']}
        open={false}
        value={settings.proxyExcept ?? []}
        onChange={(hosts: string[]) => set({ proxyExcept: hosts.length ? hosts : undefined })}
      />
      {settings.proxy && (
        <>
          <Input
            size="small"
            className={css.name}
            aria-label={`user of the proxy${whose}`}
            placeholder="no log-in"
            value={settings.proxyUser ?? ''}
            onChange={(e) => set({ proxyUser: e.target.value || undefined })}
          />
          {settings.proxyUser && (
            <SecretInput
              label={`password of the proxy${whose}`}
              name={settings.proxySecret}
              set={(proxySecret) => set({ proxySecret })}
              suggested={secrets.suggested('proxy', of)}
              secrets={secrets}
            />
          )}
        </>
      )}
    </span>
  );
}
