import { Input, Select } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { useConnectionsOf } from '../../../connections';
import { NameField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import { parametersOf } from '../../../common/sqlParameters';
import css from './Query.module.css';

type Query = StepOf<'query'>;

function QueryPanel({ step, edit, remove, where, problem }: PanelProps<Query>) {
  const databases = useConnectionsOf('database');
  return (
    <Form
      title="Query"
      about="Asks a database for each record; only statements that read are run."
      remove={remove}
      problem={problem}
    >
      <Field label="Database">
        <Select
          aria-label="database"
          className={css.choice}
          placeholder="choose a connection"
          value={step.connection}
          onChange={(connection) => edit((s) => ({ ...s, connection }))}
          options={databases.map((c) => ({ value: c.name, label: c.name }))}
        />
      </Field>
      <Field label="Query; a name after a colon is a parameter" id="sql">
        <Input.TextArea
          id="sql"
          className="mono"
          autoSize={{ minRows: 4, maxRows: 14 }}
          placeholder="SELECT code, depth_m FROM harbour.berth WHERE depth_m > :draught"
          value={step.sql ?? ''}
          onChange={(e) =>
            edit((s) => ({
              ...s,
              sql: e.target.value || undefined,
              parameters: parametersOf(e.target.value, s.parameters ?? []),
            }))
          }
        />
      </Field>
      {(step.parameters ?? []).map((p) => (
        <XPathField
          key={p.name}
          label={`:${p.name}`}
          id={`parameter-${p.name}`}
          where={where}
          value={p.xpath}
          set={(xpath) =>
            edit((s) => ({ ...s, parameters: s.parameters?.map((x) => (x.name === p.name ? { ...x, xpath } : x)) }))
          }
          placeholder="draft_m"
        />
      ))}
      <NameField
        label="Name of the rows"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="berths"
      />
    </Form>
  );
}

export const query: StepKind<'query'> = {
  kind: 'query',
  about: 'ask a database for each record',
  fresh: { kind: 'query' },
  title: (s) => s.sql?.replace(/\s+/g, ' ').trim() ?? 'write a query',
  note: (s) => s.as && `$${s.as}`,
  isOpen: (s) => !s.sql || !s.connection || !s.as,
  Panel: QueryPanel,
};
