import { Button, Checkbox, Input } from 'antd';
import { useMemo, useState } from 'react';
import type { StepOf } from '../../../api/types';
import { Panel, Split } from '../../../common/Panel';
import { TreeView } from '../../../common/TreeView';
import { ErrorText } from '../../../common/ui';
import { PanelHead } from '../../PanelHead';
import { usePick, useTryCall } from '../../queries';
import { nearest } from '../../where';
import type { PanelProps } from '../kind';
import { Columns } from './Columns';
import { EachField } from './EachField';
import { elements, expand, fromXPath, isLeaf } from './paths';
import { seenFrom, taken, ticked, xpathOf } from './picking';
import { Result } from './Result';
import css from './PickPanel.module.css';

/** What one record is, which fields of the answer it takes, and the records that gives. */
export function PickPanel({ step, edit, remove, where, specimen, goTo }: PanelProps<StepOf<'pick'>>) {
  const pick = usePick(step, where);
  const call = nearest(where, 'call');
  const tried = useTryCall(where, call?.id);
  const reply = pick.data?.reply;
  const opened = useMemo(() => (reply ? expand(reply) : undefined), [reply]);
  const typedByHand = !!step.each && fromXPath(step.each) === null;
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title="Pick" remove={remove}>
          <span className="soft nowrap">one record is</span>
          <EachField
            value={step.each ?? ''}
            set={(to) => edit((s) => seenFrom(s, to))}
            options={opened ? elements(opened) : []}
          />
          <Button
            size="small"
            disabled={!opened || typedByHand}
            title={typedByHand ? 'Type the columns: what one record is was written by hand' : undefined}
            onClick={() => opened && edit((s) => taken(s, opened))}
          >
            Take all
          </Button>
          <ResultName step={step} edit={edit} />
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
      foot={<Result view={pick.data} isEmpty={step.columns.length === 0} />}
    >
      <Split
        className={css.split}
        left={
          <div className={`scroll ${css.answer}`}>
            <h2 className={css.heading}>The answer</h2>
            {reply ? (
              <TreeView
                root={reply}
                extra={(path, node) =>
                  path === '' || !isLeaf(node) ? null : (
                    <Checkbox
                      aria-label={`take ${path}`}
                      checked={step.columns.some((c) => c.xpath === xpathOf(step.each, path))}
                      onChange={() => edit((s) => ticked(s, path, node.text))}
                    />
                  )
                }
              />
            ) : pick.isPending ? null : (
              <div className="soft">
                <p>{call ? 'An answer is needed to pick from.' : 'There is no call before this step to pick from.'}</p>
                <Button type="primary" disabled={!call} loading={tried.isPending} onClick={() => tried.mutate()}>
                  Try the call for the specimen
                </Button>
              </div>
            )}
          </div>
        }
        right={<Columns step={step} edit={edit} view={pick.data} specimen={specimen} />}
      />
    </Panel>
  );
}

/** What the steps after the pick call its records. */
function ResultName({ step, edit }: Pick<PanelProps<StepOf<'pick'>>, 'step' | 'edit'>) {
  const [text, setText] = useState<string>();
  const end = () => {
    if (text !== undefined) edit((s) => ({ ...s, as: text.replace(/^\$/, '').trim() || undefined }));
    setText(undefined);
  };
  return (
    <Input
      size="small"
      className={`mono ${css.as}`}
      aria-label="name of the result"
      title="The steps after it know the result by this name"
      prefix="$"
      placeholder="result"
      value={text ?? step.as ?? ''}
      onChange={(e) => setText(e.target.value)}
      onBlur={end}
      onPressEnter={end}
    />
  );
}
