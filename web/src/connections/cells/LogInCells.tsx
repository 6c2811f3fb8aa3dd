import { Select } from 'antd';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { SecretInput } from './SecretCell';
import { WAYS, wayOf } from './ways';

/** How the log-in goes. */
export function WayCell({ settings, set, of }: CellProps) {
  const way = wayOf(settings);
  return (
    <span className={css.cell}>
      <Select
        size="small"
        id={`log-in-way${of}`}
        aria-label={`the log-in goes as${of.replace('-', ' for ')}`}
        className={css.choice}
        value={way.value}
        options={WAYS.map(({ value, label }) => ({ value, label }))}
        onChange={(value: string) => {
          const to = WAYS.find((w) => w.value === value)?.way ?? {};
          set({ logIn: to.logIn, token: to.token });
        }}
      />
      {way.hint && <span className="soft small">{way.hint}</span>}
    </span>
  );
}

/** Its secret, called what it is. */
export function LogInSecretCell({ settings, set, of, secrets }: CellProps) {
  const what = wayOf(settings).secret;
  return (
    <SecretInput
      id={`secret${of}`}
      label={what + of.replace('-', ' for ')}
      name={settings.secret}
      set={(secret) => set({ secret })}
      suggested={secrets.suggested('', of)}
      secrets={secrets}
    />
  );
}
