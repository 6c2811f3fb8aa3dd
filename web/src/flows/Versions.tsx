import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Input, Popover } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { when } from '../common/format';
import { ErrorText } from '../common/ui';
import type { Draft } from './draft/useDraft';
import { flowKeys, useVersions } from './queries';
import css from './Versions.module.css';

type Version = Api<'FlowVersion'>;

/** The flow's versions: who saved them, what changed; each can be named, and gone back to. */
export function Versions({ flow, draft }: { flow: number; draft: Draft }) {
  const [isOpen, setOpen] = useState(false);
  const versions = useVersions(flow, draft.version, isOpen);
  const list = versions.data?.pages.flat() ?? [];
  const back = useMutation({
    mutationFn: (v: number) => api.get<Api<'FlowThen'>>(`/flows/${flow}/versions/${v}`),
    onSuccess: (then) => {
      draft.replace(then.name, then.definition);
      setOpen(false);
    },
  });
  const content = (
    <div className={`scroll ${css.body}`} role="list" aria-label="versions">
      {(versions.isError || back.isError) && <ErrorText error={versions.error ?? back.error} />}
      {list.map((v) => (
        <Entry
          key={v.version}
          flow={flow}
          version={v}
          isCurrent={v.version === draft.version}
          goBack={() => back.mutate(v.version)}
        />
      ))}
      {versions.hasNextPage && (
        <button className="link soft" onClick={() => void versions.fetchNextPage()}>
          older ones
        </button>
      )}
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomLeft" open={isOpen} onOpenChange={setOpen} content={content}>
      <button className="link" title="Who saved it when, and what changed">
        v{draft.version}
      </button>
    </Popover>
  );
}

interface EntryProps {
  flow: number;
  version: Version;
  isCurrent: boolean;
  goBack: () => void;
}

function Entry({ flow, version: v, isCurrent, goBack }: EntryProps) {
  return (
    <div className={css.entry} role="listitem">
      <div className="row wrap">
        <b className="num">v{v.version}</b>
        <span className="soft small num">
          {when(v.savedAt)}
          {v.savedBy ? ` by ${v.savedBy}` : ''}
        </span>
        <span className="push row small">
          {isCurrent ? (
            <span className="soft">the one shown</span>
          ) : (
            <button className="link soft" onClick={goBack}>
              go back to it
            </button>
          )}
        </span>
      </div>
      <Name flow={flow} version={v} />
      {v.changes?.map((c) => (
        <div key={c} className="small soft">
          {c}
        </div>
      ))}
    </div>
  );
}

/** The name of a version: given, changed, or taken away by emptying it. */
function Name({ flow, version: v }: { flow: number; version: Version }) {
  const queries = useQueryClient();
  const [text, setText] = useState<string>();
  const put = useMutation({
    mutationFn: (label: string) => api.put(`/flows/${flow}/versions/${v.version}/label`, { label }),
    onSuccess: () => queries.invalidateQueries({ queryKey: flowKeys.allVersions(flow) }),
  });
  if (text === undefined)
    return (
      <div className="row">
        {v.label && <b className="cut">{v.label}</b>}
        <button className="link faint small" onClick={() => setText(v.label ?? '')}>
          {v.label ? 'rename' : 'name it'}
        </button>
        {put.isError && <ErrorText error={put.error} />}
      </div>
    );
  const end = () => {
    if (text !== (v.label ?? '')) put.mutate(text);
    setText(undefined);
  };
  return (
    <Input
      size="small"
      autoFocus
      maxLength={120}
      aria-label={`name of version ${v.version}`}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={end}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') end();
        if (e.key === 'Escape') setText(undefined);
      }}
    />
  );
}
