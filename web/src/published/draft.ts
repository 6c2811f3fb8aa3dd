import type { ScheduleSettings, TriggerChange, TriggerView } from '../api/types';

/** A schedule as it is being written. */
export interface Draft {
  name: string;
  flow?: number;
  environment: string;
  settings: ScheduleSettings;
  on: boolean;
}

/** The zone of whoever looks: what they call two o'clock is meant. */
const here = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

export const fresh = (environment: string): Draft => ({
  name: '',
  environment,
  settings: { cron: '0 2 * * *', zone: here(), daysOff: [], missed: 'ONCE', atATime: 1 },
  on: true,
});

export const draftOf = (t: TriggerView): Draft => ({
  name: t.name,
  flow: t.flow,
  environment: t.environment,
  settings: t.settings,
  on: t.on,
});

/** What the server is told; nothing before a flow is chosen. */
export const changeOf = (d: Draft): TriggerChange | undefined =>
  d.flow === undefined || !d.name.trim()
    ? undefined
    : { kind: 'schedule', flow: d.flow, environment: d.environment, settings: d.settings, on: d.on };

export type When = 'clock' | 'minutes';

export const whenOf = (s: ScheduleSettings): When => (s.minutes == null ? 'clock' : 'minutes');

/** The other way to say when; what else is said stays. */
export function withWhen(s: ScheduleSettings, to: When): ScheduleSettings {
  const { cron, minutes, ...others } = s;
  return to === 'clock' ? { ...others, cron: cron ?? '0 2 * * *' } : { ...others, minutes: minutes ?? 15 };
}

/** Days as they are typed: apart by commas or blanks. */
export const daysOf = (text: string) => text.split(/[\s,;]+/).filter((d) => d);

/** How long until then, in words: in 12 min. */
export function until(iso: string, now: number): string {
  const minutes = Math.round((new Date(iso).getTime() - now) / 60_000);
  if (minutes < 1) return 'now';
  if (minutes < 60) return `in ${minutes} min`;
  const hours = Math.floor(minutes / 60);
  if (hours < 24) return minutes % 60 ? `in ${hours} h ${minutes % 60} min` : `in ${hours} h`;
  return `in ${Math.floor(hours / 24)} d ${hours % 24} h`;
}
