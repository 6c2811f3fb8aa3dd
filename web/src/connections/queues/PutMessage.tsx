import { useMutation } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../../api/client';
import { Field } from '../../common/Field';
import { ErrorText } from '../../common/ui';
import { propertiesOf } from './properties';
import { pathOf, type At } from './queries';
import css from './PutMessage.module.css';

/** A message by hand: typed, pasted, or dropped as a file. */
export function PutMessage({ at, queue, done }: { at: At; queue: string; done: () => Promise<void> }) {
  const [body, setBody] = useState('');
  const [replyTo, setReplyTo] = useState('');
  const [correlation, setCorrelation] = useState('');
  const [properties, setProperties] = useState('');
  const put = useMutation({
    mutationFn: () =>
      api.post(pathOf(at, '/messages', queue), {
        body,
        replyTo: replyTo.trim() || undefined,
        correlation: correlation.trim() || undefined,
        properties: propertiesOf(properties),
      }),
    onSuccess: done,
  });
  const read = async (files: FileList | null) => {
    const file = files?.item(0);
    if (file) setBody(await file.text());
  };
  return (
    <div
      className={css.put}
      role="group"
      aria-label="put a message"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        void read(e.dataTransfer.files);
      }}
    >
      <Field label="Body: typed, pasted, or a file dropped here" id="message-body">
        <Input.TextArea
          id="message-body"
          className="mono"
          autoFocus
          autoSize={{ minRows: 5, maxRows: 14 }}
          value={body}
          onChange={(e) => setBody(e.target.value)}
        />
      </Field>
      <div className={css.more}>
        <Field label="Answer to the queue" id="message-reply">
          <Input
            id="message-reply"
            size="small"
            className="mono"
            placeholder="none"
            value={replyTo}
            onChange={(e) => setReplyTo(e.target.value)}
          />
        </Field>
        <Field label="Correlation" id="message-correlation">
          <Input
            id="message-correlation"
            size="small"
            className="mono"
            placeholder="none"
            value={correlation}
            onChange={(e) => setCorrelation(e.target.value)}
          />
        </Field>
        <Field label="Properties, a line each" id="message-properties">
          <Input.TextArea
            id="message-properties"
            className="mono"
            autoSize={{ minRows: 1, maxRows: 5 }}
            placeholder="station = QUAYW"
            value={properties}
            onChange={(e) => setProperties(e.target.value)}
          />
        </Field>
        <label className={`link small ${css.file}`}>
          take a file
          <input type="file" hidden onChange={(e) => void read(e.target.files)} />
        </label>
        <Button type="primary" size="small" disabled={!body} loading={put.isPending} onClick={() => put.mutate()}>
          Put it on {queue}
        </Button>
        <ErrorText error={put.error} />
      </div>
    </div>
  );
}
