import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button, Checkbox, Input, Select } from 'antd';
import { useRef, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { ErrorText } from '../common/ui';
import { uploaded } from './files';
import { RegistrySearch } from './RegistrySearch';
import css from './ImportContract.module.css';
import { LookAtAddress, useConnectionsOf } from '../connections';

type ImportBody = { url?: string; text?: string; files?: { name: string; upload: string }[] };

/**
 * One field takes all: an address or the text itself; files are dropped on the page or chosen; or a registry is asked.
 */
export function ImportContract() {
  const go = useNavigate();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [search] = useSearchParams();
  const name = search.get('name') ?? undefined;
  const [text, setText] = useState(search.get('url') ?? '');
  const [over, setOver] = useState(false);
  const [refusesRepairs, setRefusesRepairs] = useState(false);
  const [connection, setConnection] = useState<string>();
  const chooser = useRef<HTMLInputElement>(null);
  const soap = useConnectionsOf('soap');
  const run = useMutation({
    mutationFn: (body: ImportBody) =>
      api.post<Api<'Imported'>>('/contracts', { ...body, name, refusesRepairs, connection }),
    onSuccess: (r) => {
      void queries.invalidateQueries();
      if (r.said) void message.info(r.said, 8);
      if (!r.isNew) void message.info(`${r.name} is already there with these very files, as version ${r.version}`);
      const isUpdate = r.isNew && r.version > 1;
      void go(`/contracts/${seg(r.name)}${isUpdate ? `?show=changes&from=${r.version - 1}&to=${r.version}` : ''}`);
    },
  });
  const sendFiles = useMutation({ mutationFn: async (all: File[]) => run.mutateAsync({ files: await uploaded(all) }) });
  const files = (list: FileList | null) => {
    const all = [...(list ?? [])];
    if (all.length) sendFiles.mutate(all);
  };
  const isAddress = /^https?:\/\/\S+$/.test(text.trim());
  const submit = () => run.mutate(isAddress ? { url: text.trim() } : { text });
  return (
    <div
      className="page"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void files(e.dataTransfer.files);
      }}
    >
      <div className={css.wide}>
        <h1>{name ? `Import ${name} again` : 'Import a contract'}</h1>
        <p className="soft">
          {name
            ? 'It becomes a new version, and you see what changed. Flows stay with the version they were made for.'
            : 'What is repairable in the description is repaired, and the reading notes say what was assumed.'}
        </p>
        <label className="field-label" htmlFor="wsdl">
          Address of the description, or its text
        </label>
        <Input.TextArea
          id="wsdl"
          autoFocus
          className="mono"
          autoSize={{ minRows: 3, maxRows: 18 }}
          placeholder={'https://…?wsdl    or    https://…/openapi.json    or    <definitions …>'}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && (isAddress || e.ctrlKey) && text.trim()) {
              e.preventDefault();
              submit();
            }
          }}
        />
        <div className={`row wrap ${css.bar}`}>
          <Button type="primary" disabled={!text.trim()} loading={run.isPending} onClick={submit}>
            {isAddress || !text.trim() ? 'Fetch and read' : 'Read this text'}
          </Button>
          <Checkbox checked={refusesRepairs} onChange={(e) => setRefusesRepairs(e.target.checked)}>
            refuse repairs
          </Checkbox>
          {isAddress && (
            <span className="push row soft small">
              log in as connection{' '}
              <Select
                size="small"
                allowClear
                aria-label="log in as connection"
                className={css.logInAsConnection}
                placeholder="none"
                value={connection}
                onChange={setConnection}
                options={soap.map((c) => ({ value: c.name, label: c.name }))}
              />
            </span>
          )}
          {!isAddress && text.trim() && (
            <span className="soft small">relative imports need their files; drop them together instead</span>
          )}
        </div>
        <div className={`drop ${over ? 'over' : ''}`}>
          Drop the WSDL, OpenAPI or WADL here, together with its other files or as a ZIP, or{' '}
          <button className="link" onClick={() => chooser.current?.click()}>
            choose files
          </button>
          <input
            ref={chooser}
            type="file"
            multiple
            hidden
            aria-label="description files"
            accept=".wsdl,.xsd,.xml,.wadl,.json,.yaml,.yml,.zip,text/xml,application/json,application/zip"
            onChange={(e) => void files(e.target.files)}
          />
        </div>
        {(run.error ?? sendFiles.error) && (
          <div className={css.gap}>
            <ErrorText title="Nothing was stored." error={run.error ?? sendFiles.error} />
            {run.error && isAddress && <LookAtAddress key={text} url={text.trim()} then={submit} />}
          </div>
        )}
        {!name && (
          <p className="soft">
            There is no description? <Link to="/contracts/by-hand">Describe operations by hand</Link>, from samples of
            what they take and answer.
          </p>
        )}
        <RegistrySearch connections={soap} take={(url) => run.mutate({ url })} />
      </div>
    </div>
  );
}
