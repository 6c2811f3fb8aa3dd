import { Button } from 'antd';
import { useMemo, type KeyboardEvent } from 'react';
import type { PickTrial, RecordKind, Step, StepOf } from '../../../api/types';
import { count, plural } from '../../../common/format';
import { Panel, Split } from '../../../common/Panel';
import { ErrorText } from '../../../common/ui';
import { PanelHead } from '../../PanelHead';
import { usePick, usePickTrial, useTakeAnswers, useTryCall } from '../../queries';
import { nearest } from '../../where';
import type { PanelProps } from '../kind';
import { Answer } from './Answer';
import { KindOfRecord } from './KindOfRecord';
import { expand } from './paths';
import { allSteps } from '../../tree';
import { kindsOf, linked, resultName, withKind, withOneMore, withoutKind } from './picking';
import { withPlaces } from './places';
import { Result } from './Result';
import css from './PickPanel.module.css';

const MAX_KINDS = 9;

/** The steps that write a kind's records. */
const writersOf = (steps: Step[], name: string) =>
  allSteps(steps).flatMap((s) => (s.kind === 'write' && s.from === `$${name}` ? [s] : []));

/** What the answers of the latest run come to. */
function sample(tried: PickTrial, kinds: RecordKind[]): string {
  const records = tried.kinds
    .map((k, i) => `${count(k.records)} ${kinds.length > i ? resultName(kinds[i]) : ''}`)
    .join(' and ');
  return `${plural(tried.answers, 'answer')} of run ${tried.run} give ${records}`;
}

/** The kinds of records that an answer gives: what one is, which fields it takes, and the records that gives. */
export function PickPanel(props: PanelProps<StepOf<'pick'>>) {
  const { step, edit, remove, where, specimen, setNumber, goTo, add } = props;
  const pick = usePick(step, where);
  const call = nearest(where, 'call');
  const tried = useTryCall(where, call?.id);
  const reply = pick.data?.reply;
  const trial = usePickTrial(step, where).data;
  const takeAnswers = useTakeAnswers(where, setNumber);
  const look = (number: number) => trial?.run && takeAnswers.mutate({ run: trial.run, number });
  const opened = useMemo(
    () => (reply ? withPlaces(expand(reply), trial?.places ?? []) : undefined),
    [reply, trial?.places],
  );
  const kinds = kindsOf(step);
  const isOne = kinds.length === 1;
  const editKind = (at: number) => (change: (k: RecordKind) => RecordKind) => edit((s) => withKind(s, at, change));
  const addKind = () => edit((s) => (kindsOf(s).length < MAX_KINDS ? withOneMore(s) : s));
  const keys = (e: KeyboardEvent) => {
    const isTyping = (e.target as HTMLElement).closest('input:not([type=checkbox]), .ant-select');
    if (isTyping || e.key.toLowerCase() !== 'a' || e.ctrlKey || e.metaKey || e.altKey) return;
    e.stopPropagation();
    addKind();
  };
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title="Pick" remove={remove}>
          <span className="soft small cut">
            {trial?.run ? sample(trial, kinds) : call ? `from the answer of ${call.operation ?? 'the call'}` : null}
          </span>
          <Button
            size="small"
            disabled={kinds.length >= MAX_KINDS}
            title="Takes records of another kind out of the same answer"
            onClick={addKind}
          >
            Add a record kind
          </Button>
        </PanelHead>
      }
      bar={
        <div className={css.inset}>
          {pick.isError && <ErrorText error={pick.error} />}
          {tried.isError && <ErrorText error={tried.error} />}
          {takeAnswers.isError && <ErrorText error={takeAnswers.error} />}
          {tried.data?.failure && (
            <div className="notice">
              {tried.data.failure}. Choose another specimen, or{' '}
              <button className="link" onClick={() => call && goTo(call.id)}>
                mend the fill
              </button>
              .
            </div>
          )}
        </div>
      }
      foot={
        <div className={css.results}>
          {kinds.map((k, i) => (
            <Result
              key={i}
              view={reply ? pick.data?.kinds[i] : undefined}
              tried={trial?.run ? trial.kinds[i] : undefined}
              answers={trial?.answers ?? 0}
              title={isOne ? 'Result for this answer' : `${i + 1} ${resultName(k)}`}
              isEmpty={k.columns.length === 0}
            />
          ))}
        </div>
      }
    >
      {/* eslint-disable-next-line jsx-a11y/no-static-element-interactions */}
      <div className={css.keys} onKeyDown={keys}>
        <Split
          className={css.split}
          left={
            <Answer
              reply={reply}
              known={opened}
              tried={trial}
              isPending={pick.isPending}
              step={step}
              edit={edit}
              look={look}
              tryIt={call ? () => tried.mutate() : undefined}
              isTrying={tried.isPending}
            />
          }
          right={
            <div className="scroll">
              {kinds.map((k, i) => (
                <KindOfRecord
                  key={i}
                  kinds={kinds}
                  at={i}
                  edit={editKind(i)}
                  link={(to, names) => edit((s) => linked(s, i, to, names))}
                  remove={isOne ? undefined : () => edit((s) => withoutKind(s, i))}
                  opened={opened}
                  view={pick.data?.kinds[i]}
                  tried={trial?.kinds[i]}
                  look={trial?.run ? look : undefined}
                  specimen={specimen}
                  writes={() => add({ kind: 'write', from: `$${resultName(k)}` })}
                  writers={writersOf(where.definition.steps, resultName(k))}
                  goTo={goTo}
                />
              ))}
            </div>
          }
        />
      </div>
    </Panel>
  );
}
