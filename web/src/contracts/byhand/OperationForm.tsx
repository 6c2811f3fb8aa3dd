import { Input, Select } from 'antd';
import { Field } from '../../common/Field';
import { hasBody, METHODS } from './handMade';
import { ParameterTable } from './ParameterTable';
import { SampleBox } from './SampleBox';
import type { HandMadeModel } from './useHandMade';
import css from './HandMadePage.module.css';

/** What one operation asks for and what it answers. */
export function OperationForm({ model: h }: { model: HandMadeModel }) {
  const o = h.chosen;
  const takesBody = hasBody(o.method) || !!o.body?.text;
  return (
    <div className={`scroll ${css.body}`}>
      <div className={css.line}>
        <Field label="Name" id="operation-name">
          <Input
            id="operation-name"
            className="mono"
            value={o.name}
            onChange={(e) => h.edit({ name: e.target.value })}
          />
        </Field>
        <Field label="Method">
          <Select
            aria-label="method"
            className={css.method}
            value={o.method}
            onChange={(method) => h.edit({ method, body: hasBody(method) ? (o.body ?? { form: 'JSON' }) : o.body })}
            options={METHODS.map((m) => ({ value: m, label: m }))}
          />
        </Field>
        <Field label="Path below the address; what changes stands in braces" id="operation-path">
          <Input
            id="operation-path"
            className="mono"
            placeholder="/ships/{vesselNo}/crew"
            value={o.path}
            onChange={(e) => h.edit({ path: e.target.value })}
          />
        </Field>
      </div>
      <Field label="What it does" id="operation-says">
        <Input
          id="operation-says"
          placeholder="for colleagues"
          value={o.documentation ?? ''}
          onChange={(e) => h.edit({ documentation: e.target.value || undefined })}
        />
      </Field>
      <ParameterTable operation={o} edit={h.edit} />
      <div className={css.samples}>
        {takesBody && (
          <SampleBox
            title="What is sent"
            what="body"
            sample={o.body ?? { form: 'JSON' }}
            set={(body) => h.edit({ body })}
            fields={h.preview?.body ?? []}
          />
        )}
        <SampleBox
          title="What it answers"
          what="answer"
          sample={o.answer ?? { form: 'JSON' }}
          set={(answer) => h.edit({ answer })}
          fields={h.preview?.answer ?? []}
        />
      </div>
    </div>
  );
}
