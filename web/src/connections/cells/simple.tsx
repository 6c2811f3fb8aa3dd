import { AutoComplete, Input, InputNumber, Select, Switch } from 'antd';
import type { ComponentType } from 'react';
import type { Draft, SettingKey } from '../settings';
import type { CellProps } from './cell';
import css from './cells.module.css';
import { DurationInput } from './DurationInput';

type KeyOf<T> = {
  [K in SettingKey]: NonNullable<Draft[K]> extends T ? (T extends NonNullable<Draft[K]> ? K : never) : never;
}[SettingKey];
export type TextKey = KeyOf<string>;
export type NumberKey = KeyOf<number>;
type NamesKey = KeyOf<string[]>;
export type FlagKey = KeyOf<boolean>;

interface Labelled {
  /** What it is called for those who hear the page. */
  label: string;
  placeholder?: string;
  /** Beside it, in words: the unit, what it does. */
  after?: string;
  id?: string;
}

/** A text. */
export const textCell = (
  key: TextKey,
  {
    label,
    placeholder,
    after,
    id,
    isMono,
    isWide,
    options,
  }: Labelled & {
    isMono?: boolean;
    isWide?: boolean;
    options?: string[];
  },
): ComponentType<CellProps> =>
  function TextCell({ settings, set, of }) {
    const props = {
      size: 'small' as const,
      id: id && `${id}${of}`,
      'aria-label': label + of.replace('-', ' for '),
      className: `${isMono ? 'mono' : ''} ${isWide ? '' : css.text}`,
      placeholder,
      value: settings[key] ?? '',
    };
    return (
      <span className={isWide ? css.full : css.cell}>
        {options ? (
          <AutoComplete
            {...props}
            options={options.map((value) => ({ value }))}
            onChange={(v: string) => set({ [key]: v || undefined })}
          />
        ) : (
          <Input {...props} onChange={(e) => set({ [key]: e.target.value || undefined })} />
        )}
        {after && <span className="soft small">{after}</span>}
      </span>
    );
  };

/** Several names. */
export const namesCell = (key: NamesKey, { label, placeholder }: Labelled): ComponentType<CellProps> =>
  function NamesCell({ settings, set, of }) {
    return (
      <span className={css.full}>
        <Select
          size="small"
          mode="tags"
          open={false}
          suffixIcon={null}
          tokenSeparators={[',', ' ']}
          aria-label={label + of.replace('-', ' for ')}
          className={css.names}
          placeholder={placeholder}
          value={settings[key] ?? []}
          onChange={(v: string[]) => set({ [key]: v.length ? v : undefined })}
        />
      </span>
    );
  };

/** A number, with its unit. */
export const numberCell = (key: NumberKey, { label, placeholder, after, id }: Labelled): ComponentType<CellProps> =>
  function NumberCell({ settings, set, of }) {
    return (
      <span className={css.cell}>
        <InputNumber
          size="small"
          id={id && `${id}${of}`}
          aria-label={label + of.replace('-', ' for ')}
          min={0}
          className={css.number}
          placeholder={placeholder}
          value={settings[key]}
          onChange={(v) => set({ [key]: v ?? undefined })}
        />
        {after && <span className="soft small">{after}</span>}
      </span>
    );
  };

/** A length of time. */
export const durationCell = (key: NumberKey, { label, placeholder, after }: Labelled): ComponentType<CellProps> =>
  function DurationCell({ settings, set, of }) {
    return (
      <span className={css.cell}>
        <DurationInput
          label={label + of.replace('-', ' for ')}
          placeholder={placeholder}
          value={settings[key]}
          set={(v) => set({ [key]: v })}
        />
        {after && <span className="soft small">{after}</span>}
      </span>
    );
  };

/** On or off. */
export const flagCell = (
  key: FlagKey,
  { label, after, otherwise = false }: Labelled & { otherwise?: boolean },
): ComponentType<CellProps> =>
  function FlagCell({ settings, set, of }) {
    const on = settings[key] ?? otherwise;
    return (
      <span className={css.cell}>
        <Switch
          size="small"
          aria-label={label + of.replace('-', ' for ')}
          checked={on}
          onChange={(v) => set({ [key]: v === otherwise ? undefined : v })}
        />
        {after && <span className="soft small">{after}</span>}
      </span>
    );
  };

/** One of a few. */
export const choiceCell = (
  key: TextKey,
  { label, after, options }: Labelled & { options: { value: string; label: string }[] },
): ComponentType<CellProps> =>
  function ChoiceCell({ settings, set, of }) {
    return (
      <span className={css.cell}>
        <Select
          size="small"
          aria-label={label + of.replace('-', ' for ')}
          className={css.choice}
          value={settings[key] ?? ''}
          options={options}
          onChange={(v: string) => set({ [key]: v || undefined })}
        />
        {after && <span className="soft small">{after}</span>}
      </span>
    );
  };
