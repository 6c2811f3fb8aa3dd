import { Checkbox, InputNumber } from 'antd';
import { Field } from '../../../common/Field';
import type { SettingsProps } from '../kind';
import { HeaderRules } from './HeaderRules';
import { LogInWay } from './LogInWay';
import { Trusted } from './Trusted';
import css from './ServiceSettings.module.css';

type NumberKey = 'parallel' | 'callsPerSecond' | 'retries' | 'connectTimeoutMillis' | 'callTimeoutMillis';
const NUMBERS: { key: NumberKey; label: string; otherwise: string }[] = [
  { key: 'parallel', label: 'Calls at a time', otherwise: '8' },
  { key: 'callsPerSecond', label: 'Calls a second', otherwise: 'no limit' },
  { key: 'retries', label: 'Retries, unreached', otherwise: '2' },
  { key: 'connectTimeoutMillis', label: 'Connect time-out, ms', otherwise: '5000' },
  { key: 'callTimeoutMillis', label: 'Time for a whole call, ms', otherwise: '30000' },
];
/** Limits of the calls, and what is added to their messages. */
export function ServiceSettings({ settings, set }: SettingsProps) {
  const adds = settings.token || settings.timestamp || settings.addressing;
  return (
    <>
      <LogInWay settings={settings} set={set} />
      <Trusted trust={settings.trust} set={(trust) => set((s) => ({ ...s, trust }))} />
      <div className={`row wrap ${css.limits}`}>
        {NUMBERS.map(({ key, label, otherwise }) => (
          <Field key={key} label={label} id={key}>
            <InputNumber
              id={key}
              min={0}
              className={css.number}
              placeholder={otherwise}
              value={settings[key]}
              onChange={(v) => set((s) => ({ ...s, [key]: v ?? undefined }))}
            />
          </Field>
        ))}
      </div>
      <div className={`row wrap ${css.message}`}>
        <Checkbox
          checked={!!settings.timestamp}
          onChange={(e) => set((s) => ({ ...s, timestamp: e.target.checked || undefined }))}
        >
          WS-Security timestamp
        </Checkbox>
        <Checkbox
          checked={!!settings.addressing}
          onChange={(e) => set((s) => ({ ...s, addressing: e.target.checked || undefined }))}
        >
          WS-Addressing headers
        </Checkbox>
        {adds && <HeaderRules settings={settings} set={set} />}
      </div>
    </>
  );
}
