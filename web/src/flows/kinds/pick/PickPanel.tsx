import { Button } from 'antd';
import { useMemo, type KeyboardEvent } from 'react';
import type { RecordKind, Step, StepOf } from '../../../api/types';
import { Panel, Split } from '../../../common/Panel';
import { ErrorText } from '../../../common/ui';
import { PanelHead } from '../../PanelHead';
import { usePick, useTryCall } from '../../queries';
import { nearest } from '../../where';
import type { PanelProps } from '../kind';
import { Answer } from './Answer';
import { KindOfRecord } from './KindOfRecord';
import { expand } from './paths';
import { allSteps } from '../../tree';
import { kindsOf, linked, resultName, withKind, withOneMore, withoutKind } from './picking';
import { Result } from './Result';
import css from './PickPanel.module.css';

const MAX_KINDS = 9;

/** The steps that write a kind's records. */
const writersOf = (steps: Step[], name: string) =>
  allSteps(steps).flatMap((s) => (s.kind === 'write' && s.from === `$${name}` ? [s] : []));

/** The kinds of records that an answer gives: what one is, which fields it takes, and the records that gives. */
export function PickPanel({ step, edit, remove, where, specimen, goTo, add }: PanelProps<StepOf<'pick'>>) {
  const pick = usePick(step, where);
  const call = nearest(where, 'call');
  const tried = useTryCall(where, call?.id);
  const reply = pick.data?.reply;
  const opened = useMemo(() => (reply ? expand(reply) : undefined), [reply]);
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
          <span className="soft small">{call ? `from the answer of ${call.operation ?? 'the call'}` : null}</span>
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
              isPending={pick.isPending}
              kinds={kinds}
              editKind={editKind}
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
