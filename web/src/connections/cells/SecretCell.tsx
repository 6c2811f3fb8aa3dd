import { AutoComplete, Input } from 'antd';
import type { ComponentType } from 'react';
import type { CellProps, SecretDesk } from './cell';
import css from './cells.module.css';
import type { TextKey } from './simple';

interface Props {
  label: string;
  /** Undefined for none. */
  name: string | undefined;
  set: (name: string | undefined) => void;
  suggested: string;
  secrets: SecretDesk;
  id?: string;
}

/** A secret by its name; a value that is typed is kept under it, and never shown again. */
export function SecretInput({ label, name, set, suggested, secrets, id }: Props) {
  const typed = name ? secrets.typed[name] : undefined;
  const isKnown = !!name && secrets.known.includes(name);
  const rename = (to: string) => {
    set(to || undefined);
    if (name && typed !== undefined && to !== name) {
      secrets.type(name, undefined);
      if (to && !secrets.known.includes(to)) secrets.type(to, typed);
    }
  };
  const type = (value: string) => {
    const under = name ?? suggested;
    if (!name && value) set(under);
    secrets.type(under, value || undefined);
  };
  return (
    <span className={css.cell}>
      <span className={css.secret}>
        <span>secret</span>
        <AutoComplete
          size="small"
          aria-label={`name of the ${label}`}
          className={`mono ${css.name}`}
          placeholder={suggested}
          value={name ?? ''}
          options={secrets.known.map((value) => ({ value }))}
          filterOption={(input, o) => String(o?.value).includes(input)}
          onChange={(v: string) => rename(v)}
        />
      </span>
      <Input.Password
        size="small"
        id={id}
        aria-label={label}
        className={css.value}
        autoComplete="new-password"
        placeholder={isKnown ? 'kept; type to replace' : name ? 'its value' : 'none'}
        status={name && !isKnown && !typed ? 'warning' : undefined}
        value={typed ?? ''}
        onChange={(e) => type(e.target.value)}
      />
    </span>
  );
}

export const secretCell = (key: TextKey, what: string, id?: string): ComponentType<CellProps> =>
  function SecretCell({ settings, set, of, secrets }) {
    return (
      <SecretInput
        id={id && `${id}${of}`}
        label={what + of.replace('-', ' for ')}
        name={settings[key]}
        set={(name) => set({ [key]: name })}
        suggested={secrets.suggested(what, of)}
        secrets={secrets}
      />
    );
  };
