import { Input, Select } from 'antd';
import type { Draft, SettingsProps } from '../kind';
import css from './LogInWay.module.css';

type Way = Pick<Draft, 'logIn' | 'token'>;

/** How user and password go; what is not said is not sent. */
const WAYS: { value: string; label: string; way: Way; hint?: string }[] = [
  { value: 'basic', label: 'HTTP Basic', way: {} },
  { value: 'digest', label: 'HTTP Digest', way: { logIn: 'digest' }, hint: 'Each call is asked for it first.' },
  { value: 'bearer', label: 'bearer token', way: { logIn: 'bearer' }, hint: 'The password is the token.' },
  { value: 'key', label: 'key in a header', way: { logIn: 'key' }, hint: 'The password is the key.' },
  {
    value: 'oauth',
    label: 'OAuth 2, client credentials',
    way: { logIn: 'oauth' },
    hint: 'User and password are those of the client.',
  },
  { value: 'wss-text', label: 'WS-Security token, password as text', way: { token: 'text' } },
  { value: 'wss-digest', label: 'WS-Security token, password digest', way: { token: 'digest' } },
];

const wayOf = (s: Draft) =>
  WAYS.find((w) => (s.token ? w.way.token === s.token : !w.way.token && w.way.logIn === (s.logIn || undefined))) ??
  WAYS[0];

/** How the log-in goes, and what that way needs. */
export function LogInWay({ settings, set }: SettingsProps) {
  const way = wayOf(settings);
  const choose = (value: string) => {
    const to = WAYS.find((w) => w.value === value)?.way ?? {};
    set((s) => ({ ...s, logIn: to.logIn, token: to.token }));
  };
  return (
    <div className={`row wrap small ${css.way}`}>
      <label className="soft" htmlFor="log-in-way">
        the log-in goes as
      </label>
      <Select
        id="log-in-way"
        size="small"
        className={css.choice}
        value={way.value}
        onChange={choose}
        options={WAYS.map(({ value, label }) => ({ value, label }))}
      />
      {way.value === 'key' && (
        <Text label="header that carries the key" placeholder="X-Api-Key" field="keyHeader" {...{ settings, set }} />
      )}
      {way.value === 'oauth' && (
        <>
          <Text
            label="address where tokens are had"
            placeholder="https://…/token"
            field="tokenUrl"
            wide
            {...{ settings, set }}
          />
          <Text label="scope" placeholder="scope: none" field="scope" {...{ settings, set }} />
        </>
      )}
      {way.hint && <span className="soft">{way.hint}</span>}
    </div>
  );
}

interface TextProps extends SettingsProps {
  label: string;
  placeholder: string;
  field: 'keyHeader' | 'tokenUrl' | 'scope';
  wide?: boolean;
}

const Text = ({ label, placeholder, field, wide, settings, set }: TextProps) => (
  <Input
    size="small"
    aria-label={label}
    className={`mono ${wide ? css.wide : css.narrow}`}
    placeholder={placeholder}
    value={settings[field] ?? ''}
    onChange={(e) => set((s) => ({ ...s, [field]: e.target.value || undefined }))}
  />
);
