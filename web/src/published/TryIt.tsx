import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { EndpointView, TriedEndpoint } from '../api/types';
import { named } from '../app/environment';
import { MessageText } from '../common/MessageText';
import { Scroll } from '../common/Panel';
import { TreeView } from '../common/TreeView';
import { ErrorText, Status } from '../common/ui';
import { useRested } from '../common/useRested';
import { KeptSamples } from './KeptSamples';
import { brief, outcomeOf, sampleOfTyped, typedOf, typeWords, wayOf } from './endpoint';
import { endpointKeys, useRequest } from './queries';
import css from './TryIt.module.css';

const RESTS_MS = 300;

/** Asks it in place: what goes in, what the flow gets of it, what comes out, and the same as a command. */
export function TryIt({ of: e }: { of: EndpointView }) {
  const queries = useQueryClient();
  const all = [...e.samples, ...e.kept];
  const [typed, setTyped] = useState(() => typedOf(all.at(0)?.json));
  const [message, setMessage] = useState(all.at(0)?.json ?? '');
  const sample = e.operation ? message : sampleOfTyped(e.inputs, typed);
  const request = useRequest(e, useRested(sample, RESTS_MS));
  const ask = useMutation({
    mutationFn: () => api.post<TriedEndpoint>(`/endpoints/${seg(e.name)}/try`, { sample }),
    onSuccess: () => queries.invalidateQueries({ queryKey: endpointKeys.all }),
  });
  const out = ask.data;
  const way = wayOf(e);
  const outcome = outcomeOf(way, out?.status ?? 0);
  const can = e.state === 'ready' || e.state === 'starting';
  return (
    <div className={css.body}>
      <div
        className={css.in}
        onKeyDown={(k) => {
          if (k.key === 'Enter' && k.ctrlKey && can) ask.mutate();
        }}
        role="group"
        aria-label="try it"
      >
        <div className="row">
          <h3>In</h3>
          {all.length > 0 && (
            <Select
              size="small"
              aria-label="sample"
              className={css.sample}
              placeholder="a sample"
              value={null}
              onChange={(n: number) => {
                setTyped(typedOf(all[n].json));
                setMessage(all[n].json);
              }}
              options={all.map((s, n) => ({ value: n, label: s.name }))}
            />
          )}
        </div>
        {e.operation && (
          <Input.TextArea
            className="mono"
            aria-label="the request, as XML"
            autoSize={{ minRows: 4, maxRows: 16 }}
            placeholder="the element in the body of the request"
            value={message}
            onChange={(x) => setMessage(x.target.value)}
          />
        )}
        <div className={css.table} hidden={!!e.operation}>
          <table className="grid">
            <tbody>
              {e.inputs.map((i) => (
                <tr key={i.name}>
                  <td>
                    <span className="mono">{i.name}</span>
                    <div className="faint small">{typeWords(i)}</div>
                  </td>
                  <td>
                    {i.type === 'nested' || i.type === 'json' || i.many ? (
                      <Input.TextArea
                        className="mono"
                        aria-label={`value of ${i.name}`}
                        autoSize={{ minRows: 1, maxRows: 8 }}
                        placeholder={i.many ? '[ … ]' : '{ … }'}
                        value={typed[i.name] ?? ''}
                        onChange={(x) => setTyped({ ...typed, [i.name]: x.target.value })}
                      />
                    ) : (
                      <Input
                        size="small"
                        className="mono"
                        aria-label={`value of ${i.name}`}
                        placeholder="not sent"
                        value={typed[i.name] ?? ''}
                        onChange={(x) => setTyped({ ...typed, [i.name]: x.target.value })}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <div className={`row ${css.deed}`}>
          <Button type="primary" disabled={!can} loading={ask.isPending} onClick={() => ask.mutate()}>
            {named('Try it', e.environment)}
          </Button>
          <kbd>Ctrl Enter</kbd>
        </div>
        <KeptSamples of={e} sample={sample} />
        {out?.given && (
          <div>
            <span className="field-label">
              What the flow got: <code>$input</code>
            </span>
            <TreeView root={out.given} />
          </div>
        )}
      </div>
      <div className={css.out}>
        <div className="row">
          <h3>Out</h3>
          {out && (
            <>
              <Status mood={outcome.mood}>
                {outcome.words} in {brief(out.micros)}
              </Status>
              <span className="push" />
              {out.run !== undefined && out.record !== undefined && (
                <Link to={`/runs/${out.run}?record=${out.record}`}>its trail</Link>
              )}
            </>
          )}
        </div>
        <ErrorText error={ask.error} />
        {out ? (
          <Scroll label="answer" className={css.answer}>
            {out.body ? <MessageText text={out.body} /> : <span className="soft">no content</span>}
          </Scroll>
        ) : (
          <p className="soft small">
            {way === 'queue'
              ? `It is put on ${e.queue?.queue} as a message, to be answered here.`
              : way === 'folder'
                ? 'It is put into the folder as a file; what comes of it appears here.'
                : way === 'rows'
                  ? 'The flow is given a row that is made up like this; what comes of it appears here.'
                  : way === 'after'
                    ? 'The flow is told of a run that is made up like this; what comes of it appears here.'
                    : 'Its answer appears here. Somebody with a key gets the same.'}
          </p>
        )}
        {request.isError && <ErrorText error={request.error} />}
        {request.data?.curl && <Command text={request.data.curl} isOpen={!!(e.http ?? e.soap)?.open} />}
      </div>
    </div>
  );
}

/** The same request for a command line. */
function Command({ text, isOpen }: { text: string; isOpen: boolean }) {
  const [copied, setCopied] = useState<string>();
  return (
    <div className={css.command}>
      <div className="row">
        <span className="field-label">{isOpen ? 'As a command' : 'As a command, with the key in KEY'}</span>
        <span className="push" />
        <Button size="small" onClick={() => void navigator.clipboard?.writeText(text).then(() => setCopied(text))}>
          {copied === text ? 'Copied' : 'Copy'}
        </Button>
      </div>
      <pre className={`mono ${css.curl}`}>{text}</pre>
    </div>
  );
}
