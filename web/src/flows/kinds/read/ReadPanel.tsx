import { Button, Select } from 'antd';
import { Link, useNavigate } from 'react-router';
import { seg } from '../../../api/client';
import type { StepOf } from '../../../api/types';
import { Panel } from '../../../common/Panel';
import { RecordTable } from '../../../common/RecordTable';
import { ErrorText } from '../../../common/ui';
import { useSourcePreview, useSources } from '../../../data';
import { PanelHead } from '../../PanelHead';
import type { PanelProps } from '../kind';
import css from './ReadPanel.module.css';

export function ReadPanel({ step, edit, remove, where, setNumber }: PanelProps<StepOf<'read'>>) {
  const go = useNavigate();
  const sources = useSources();
  const preview = useSourcePreview(step.source, where.environment);
  return (
    <Panel
      head={
        <PanelHead title="Read" remove={remove}>
          <Select
            aria-label="source"
            className={css.source}
            placeholder="choose a source"
            value={step.source}
            onChange={(source) => edit((s) => ({ ...s, source }))}
            options={sources.data?.map((s) => ({ value: s.name, label: s.name }))}
          />
          {step.source ? (
            <Link className="soft" to={`/data/sources/${seg(step.source)}`}>
              open it
            </Link>
          ) : (
            <Button onClick={() => void go('/data/sources/new')}>Add a source</Button>
          )}
        </PanelHead>
      }
      bar={
        <div className={`soft small ${css.inset}`}>
          {preview.isError && <ErrorText error={preview.error} />}
          {preview.data?.problem && <span className="st bad">{preview.data.problem}</span>}
          {preview.data &&
            !preview.data.problem &&
            'Choose a record to make it the specimen: every value on the other steps is computed from it.'}
          {sources.data?.length === 0 && 'There is no source yet.'}
        </div>
      }
    >
      {preview.data && preview.data.fields.length > 0 && (
        <RecordTable
          fields={preview.data.fields}
          records={preview.data.records}
          unreadable={preview.data.unreadable}
          chosen={where.number}
          choose={setNumber}
        />
      )}
    </Panel>
  );
}
