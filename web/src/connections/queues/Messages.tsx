import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Popover, Select } from 'antd';
import { Fragment, useState } from 'react';
import { api } from '../../api/client';
import type { Api } from '../../api/types';
import { count, when } from '../../common/format';
import { MessageText } from '../../common/MessageText';
import { Scroll } from '../../common/Panel';
import { ErrorText, Status } from '../../common/ui';
import { PutMessage } from './PutMessage';
import { pathOf, queueKeys, useMessages, type At } from './queries';
import css from './Messages.module.css';

type Message = Api<'QueueMessageView'>;

interface Props {
  at: At;
  queue: string;
  /** Where messages can be moved to. */
  others: string[];
}

const COLUMNS = 5;

/** The first messages of a queue, and what is done with them by hand. */
export function Messages({ at, queue, others }: Props) {
  const queries = useQueryClient();
  const messages = useMessages(at, queue);
  const [chosen, setChosen] = useState<string[]>([]);
  const [opened, setOpened] = useState<string>();
  const [isPutting, setPutting] = useState(false);
  const refresh = async () => {
    setChosen([]);
    await queries.invalidateQueries({ queryKey: queueKeys.all });
  };
  const move = useMutation({
    mutationFn: (to: string) => api.post(pathOf(at, '/move', queue), { ids: still, to }),
    onSuccess: refresh,
  });
  const all = messages.data ?? [];
  const still = chosen.filter((id) => all.some((m) => m.id === id));
  return (
    <div className={css.messages}>
      <div className={`row wrap ${css.deeds}`}>
        <Button size="small" type={isPutting ? 'default' : 'primary'} onClick={() => setPutting(!isPutting)}>
          {isPutting ? 'Close' : 'Put a message'}
        </Button>
        <Select
          size="small"
          aria-label="move to"
          className={css.to}
          placeholder={still.length ? `move ${still.length} to …` : 'move to …'}
          disabled={!still.length || move.isPending}
          value={null}
          onChange={(to: string | null) => to && move.mutate(to)}
          options={others.map((o) => ({ value: o, label: o }))}
        />
        <span className="push" />
        {all.length > 0 && <Emptying at={at} queue={queue} refresh={refresh} />}
      </div>
      <ErrorText error={messages.error ?? move.error} />
      {isPutting && (
        <PutMessage
          at={at}
          queue={queue}
          done={async () => {
            setPutting(false);
            await refresh();
          }}
        />
      )}
      {messages.data && all.length === 0 ? (
        <p className={`soft ${css.none}`}>No message waits on {queue}.</p>
      ) : (
        <table className="grid">
          <thead>
            <tr>
              <th className={css.tick} aria-label="chosen" />
              <th>put at</th>
              <th>correlation</th>
              <th>says</th>
              <th className="n">bytes</th>
            </tr>
          </thead>
          <tbody>
            {all.map((m, n) => (
              <MessageRow
                key={m.id ?? n}
                of={m}
                isChosen={!!m.id && still.includes(m.id)}
                choose={(on) => setChosen(on && m.id ? [...still, m.id] : still.filter((id) => id !== m.id))}
                isOpen={opened === (m.id ?? String(n))}
                open={() => setOpened(opened === (m.id ?? String(n)) ? undefined : (m.id ?? String(n)))}
              />
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

interface RowProps {
  of: Message;
  isChosen: boolean;
  choose: (on: boolean) => void;
  isOpen: boolean;
  open: () => void;
}

function MessageRow({ of: m, isChosen, choose, isOpen, open }: RowProps) {
  const failure = m.properties.wk_reason;
  return (
    <Fragment>
      <tr className={`pick ${isOpen ? 'on' : ''}`} onClick={open}>
        <td onClick={(e) => e.stopPropagation()}>
          <Checkbox
            aria-label={`choose ${m.id ?? 'a message without an id'}`}
            disabled={!m.id}
            checked={isChosen}
            onChange={(e) => choose(e.target.checked)}
          />
        </td>
        <td className="nowrap num">
          <button className="link" aria-expanded={isOpen}>
            {m.at ? when(m.at) : 'not said'}
          </button>
        </td>
        <td className={`mono soft ${css.cut}`}>{m.correlation}</td>
        <td className={css.cut}>
          {failure ? <Status mood="bad">{failure}</Status> : <span className="mono soft">{m.unread ?? m.body}</span>}
        </td>
        <td className="n">{count(m.bytes)}</td>
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={COLUMNS} className={css.whole}>
            <Properties of={m} />
            <Scroll label="body" className={css.text}>
              {m.unread ? <span className="soft">{m.unread}</span> : <MessageText text={m.body} />}
            </Scroll>
          </td>
        </tr>
      )}
    </Fragment>
  );
}

function Properties({ of: m }: { of: Message }) {
  const own = Object.entries(m.properties);
  const all: [string, string | undefined][] = [
    ['message-id', m.id],
    ['correlation-id', m.correlation],
    ['reply-to', m.replyTo],
    ...own,
  ];
  return (
    <dl className={css.properties}>
      {all
        .filter(([, value]) => value)
        .map(([name, value]) => (
          <Fragment key={name}>
            <dt className="mono soft">{name}</dt>
            <dd className="mono">{value}</dd>
          </Fragment>
        ))}
    </dl>
  );
}

/** All gone, for whoever types the queue's name. */
function Emptying({ at, queue, refresh }: { at: At; queue: string; refresh: () => Promise<void> }) {
  const [typed, setTyped] = useState('');
  const [isOpen, setOpen] = useState(false);
  const empty = useMutation({
    mutationFn: () => api.post(pathOf(at, '/empty', queue), { name: typed }),
    onSuccess: async () => {
      setOpen(false);
      setTyped('');
      await refresh();
    },
  });
  return (
    <Popover
      trigger="click"
      open={isOpen}
      onOpenChange={setOpen}
      content={
        <div className={css.empty}>
          <p>All messages are removed for good. Type the queue’s name:</p>
          <Input
            size="small"
            className="mono"
            aria-label="name of the queue"
            placeholder={queue}
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <Button
            size="small"
            danger
            disabled={typed !== queue}
            loading={empty.isPending}
            onClick={() => empty.mutate()}
          >
            Remove all messages
          </Button>
          <ErrorText error={empty.error} />
        </div>
      }
    >
      <Button size="small">Empty …</Button>
    </Popover>
  );
}
