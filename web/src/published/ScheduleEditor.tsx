import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, InputNumber, Segmented, Select } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { ScheduleSettings, TriggerView } from '../api/types';
import { Field } from '../common/Field';
import { when } from '../common/format';
import { Scroll, Toolbar } from '../common/Panel';
import { Suggest } from '../common/Suggest';
import { ErrorText, Status } from '../common/ui';
import { useRested } from '../common/useRested';
import { useUndo } from '../common/useUndo';
import { useFlows } from '../flows';
import { changeOf, daysOf, draftOf, whenOf, withWhen, type Draft, type When } from './draft';
import { EnvironmentField } from './EnvironmentField';
import { triggerKeys, useTimes, useTrigger } from './queries';
import css from './ScheduleEditor.module.css';

const RESTS_MS = 250;
const WEEK_MINUTES = 7 * 24 * 60;
const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone')];
const CRONS = ['0 2 * * *', '*/15 6-20 * * *', '0 7 * * 1-5', '0 0 1 * *'];

interface Props {
  begin?: Draft;
  kept?: TriggerView;
  /** Names that a new one cannot have. */
  taken?: string[];
}

/** A schedule: a new one that begins as given, or one that is kept. */
export function ScheduleEditor({ begin, kept, taken = [] }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const undo = useUndo();
  const [changed, setChanged] = useState<Draft | undefined>(begin);
  const draft = changed ?? (kept ? draftOf(kept) : undefined);
  const refresh = () => queries.invalidateQueries({ queryKey: triggerKeys.all });
  const keep = useMutation({
    // Whether it is on is said apart: it may have been paused since the change began.
    mutationFn: (d: Draft) => api.put(`/triggers/${seg(d.name.trim())}`, changeOf({ ...d, on: kept ? kept.on : d.on })),
    onSuccess: async (_, d) => {
      await refresh();
      setChanged(undefined);
      void go(`/published/${seg(d.name.trim())}`);
    },
  });
  const turn = useMutation({
    mutationFn: (on: boolean) => api.post(`/triggers/${seg(kept?.name ?? '')}/turn`, { on }),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: async (t: TriggerView) => api.delete(`/triggers/${seg(t.name)}`),
    onSuccess: async (_, t) => {
      await refresh();
      void go('/published');
      undo(`Removed ${t.name}.`, async () => {
        await api.put(`/triggers/${seg(t.name)}`, changeOf(draftOf(t)));
        await refresh();
      });
    },
  });
  if (!draft) return null;
  const set = (by: Partial<Draft>) => setChanged({ ...draft, ...by });
  const isTaken = !kept && taken.includes(draft.name.trim());
  return (
    <section className={`panel ${css.editor}`} aria-label="schedule">
      <Toolbar>
        <h2>{kept?.name ?? 'A new schedule'}</h2>
        {kept && !kept.on && <Status mood="idle">paused</Status>}
        <span className="push" />
        {isTaken && <Status mood="bad">there is a schedule of this name</Status>}
        {changed && (
          <Button
            type="primary"
            disabled={isTaken || !changeOf(draft)}
            loading={keep.isPending}
            onClick={() => keep.mutate(draft)}
          >
            Keep
          </Button>
        )}
        {kept && (
          <>
            <Button loading={turn.isPending} onClick={() => turn.mutate(!kept.on)}>
              {kept.on ? 'Pause' : 'Go on'}
            </Button>
            <Button onClick={() => remove.mutate(kept)}>Remove</Button>
          </>
        )}
      </Toolbar>
      <ErrorText error={keep.error ?? turn.error ?? remove.error} />
      <div className={css.body}>
        <Fields draft={draft} set={set} isKept={!!kept} />
        <Times settings={draft.settings} />
        {kept && <Starts name={kept.name} />}
      </div>
    </section>
  );
}

function Fields({ draft, set, isKept }: { draft: Draft; set: (by: Partial<Draft>) => void; isKept: boolean }) {
  const flows = useFlows().data;
  const s = draft.settings;
  const change = (by: Partial<ScheduleSettings>) => set({ settings: { ...s, ...by } });
  const [days, setDays] = useState((s.daysOff ?? []).join(', '));
  return (
    <div className={css.fields}>
      {!isKept && (
        <Field label="Name" id="schedule-name">
          <Input id="schedule-name" value={draft.name} onChange={(e) => set({ name: e.target.value })} />
        </Field>
      )}
      <Field label="Runs the flow" id="schedule-flow">
        <Select
          id="schedule-flow"
          aria-label="flow"
          showSearch={{ optionFilterProp: 'label' }}
          className={css.flow}
          placeholder="choose a flow"
          value={draft.flow}
          onChange={(flow) => set({ flow })}
          options={flows?.map((f) => ({ value: f.id, label: f.name }))}
        />
      </Field>
      <EnvironmentField
        id="schedule-environment"
        value={draft.environment}
        set={(environment) => set({ environment })}
      />
      <Field label="When">
        <Segmented<When>
          value={whenOf(s)}
          onChange={(to) => set({ settings: withWhen(s, to) })}
          options={[
            { value: 'clock', label: 'at times of the clock' },
            { value: 'minutes', label: 'every so many minutes' },
          ]}
        />
      </Field>
      {whenOf(s) === 'clock' ? (
        <Field label="Minute, hour, day, month, day of the week">
          <Suggest
            mono
            label="cron"
            width={220}
            value={s.cron ?? ''}
            onChange={(cron) => change({ cron })}
            options={CRONS}
          />
        </Field>
      ) : (
        <Field label="Minutes from one start to the next" id="schedule-minutes">
          <InputNumber
            id="schedule-minutes"
            min={1}
            max={WEEK_MINUTES}
            value={s.minutes}
            onChange={(minutes) => change({ minutes: minutes ?? 1 })}
          />
        </Field>
      )}
      <Field label="Time zone">
        <Suggest
          label="time zone"
          width={220}
          value={s.zone ?? ''}
          onChange={(zone) => change({ zone: zone || undefined })}
          options={ZONES}
          placeholder="UTC"
        />
      </Field>
      <Field label="Not on these days" id="schedule-days">
        <Input
          id="schedule-days"
          className="mono"
          placeholder="2031-12-24/2031-12-26, 2032-01-01"
          value={days}
          onChange={(e) => {
            setDays(e.target.value);
            change({ daysOff: daysOf(e.target.value) });
          }}
        />
      </Field>
      <Field label="Times at which no server was there">
        <Segmented<'ONCE' | 'SKIP'>
          value={s.missed ?? 'ONCE'}
          onChange={(missed) => change({ missed })}
          options={[
            { value: 'ONCE', label: 'start it once' },
            { value: 'SKIP', label: 'are skipped' },
          ]}
        />
      </Field>
      <Field label="Runs of it at a time" id="schedule-at-a-time">
        <InputNumber
          id="schedule-at-a-time"
          min={1}
          max={100}
          value={s.atATime ?? 1}
          onChange={(n) => change({ atATime: n ?? 1 })}
        />
      </Field>
    </div>
  );
}

/** In words, and the next ten times, while it is typed. */
function Times({ settings }: { settings: ScheduleSettings }) {
  const times = useTimes(useRested(settings, RESTS_MS));
  return (
    <div>
      <span className="field-label">Next times in {settings.zone || 'UTC'}</span>
      {times.isError ? (
        <ErrorText error={times.error} />
      ) : (
        times.data && (
          <>
            <div className="strong">{times.data.words}</div>
            <ol className={`num ${css.times}`} aria-label="next times">
              {times.data.next.map((t) => (
                <li key={t}>{shown(t)}</li>
              ))}
            </ol>
            {times.data.next.length === 0 && <Status mood="warn">never</Status>}
          </>
        )
      )}
    </div>
  );
}

/** As the clock of its zone shows it, with the day of the week. */
function shown(iso: string): string {
  const [day, time] = iso.split('T');
  const name = new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', { weekday: 'short', timeZone: 'UTC' });
  return `${name} ${day} ${time.slice(0, 5)}`;
}

function Starts({ name }: { name: string }) {
  const starts = useTrigger(name).data?.starts ?? [];
  return (
    <div>
      <span className="field-label">What came of it</span>
      {starts.length === 0 ? (
        <span className="soft">It was not due yet.</span>
      ) : (
        <Scroll label="what came of it" className={css.starts}>
          <table className="grid">
            <tbody>
              {starts.map((s) => (
                <tr key={s.due}>
                  <td className="nowrap soft">{when(s.due)}</td>
                  <td>
                    {s.run == null ? (
                      <Status mood="warn">{s.reason}</Status>
                    ) : (
                      <Link to={`/runs/${s.run}`}>run {s.run}</Link>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </div>
  );
}
