import { Segmented, Select } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { useShapes } from '../../../data';
import { NameField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

function Parse({ step, edit, remove, where, problem }: PanelProps<StepOf<'parse'>>) {
  const shapes = (useShapes().data ?? []).filter((s) => (s.kind === 'xsd') === (step.format !== 'json'));
  return (
    <Form
      title="Parse"
      about="Reads XML or JSON that a text holds; what is read has a name, and paths lead into it as into any record."
      remove={remove}
      problem={problem}
    >
      <XPathField
        label="Text"
        id="text"
        where={where}
        value={step.text}
        set={(text) => edit((s) => ({ ...s, text }))}
        placeholder="$reply/bulletin"
      />
      <Field label="It is">
        <Segmented
          size="small"
          aria-label="format"
          value={step.format ?? 'xml'}
          onChange={(format) => edit((s) => ({ ...s, format, shape: undefined }))}
          options={[
            { value: 'xml', label: 'XML' },
            { value: 'json', label: 'JSON' },
          ]}
        />
      </Field>
      {(shapes.length > 0 || step.shape) && (
        <Field label="It has to fit">
          <Select
            size="small"
            allowClear
            aria-label="shape of the text"
            placeholder="any"
            popupMatchSelectWidth={false}
            value={step.shape}
            onChange={(shape?: string) => edit((s) => ({ ...s, shape }))}
            options={shapes.map((s) => ({ value: s.name, label: s.name }))}
          />
        </Field>
      )}
      <NameField
        label="Name of what is read"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="bulletin"
      />
    </Form>
  );
}

export const parse: StepKind<'parse'> = {
  kind: 'parse',
  about: 'read XML or JSON that a text holds',
  fresh: { kind: 'parse', format: 'xml' },
  title: (s) => (s.text ? `${s.text} as ${s.format === 'json' ? 'JSON' : 'XML'}` : 'say which text'),
  isOpen: (s) => !s.text || !s.as,
  Panel: Parse,
};
