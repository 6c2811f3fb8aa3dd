import { Button, Input } from 'antd';
import { useState } from 'react';
import type { StepOf } from '../../../api/types';
import { embedded } from '../../../common/embedded';
import { Toolbar } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import type { PanelProps } from '../kind';
import { inputsOf, parsed, sampleOf } from './inputs';
import css from './ReceivePanel.module.css';

type Step = StepOf<'receive'>;

interface Props {
  step: Step;
  edit: PanelProps<Step>['edit'];
  number: number;
  setNumber: (n: number) => void;
  /** Another way to add one. */
  children?: React.ReactNode;
}

/** Samples of what is handed over. The one that is open is the specimen. */
export function Samples({ step, edit, number, setNumber, children }: Props) {
  const isMessage = !!step.request;
  const samples = step.samples ?? [];
  const inputs = step.inputs ?? [];
  const at = Math.min(Math.max(1, number), samples.length) - 1;
  const open = samples[at];
  const change = (to: Partial<{ name: string; json: string }>) =>
    edit((s) => ({ ...s, samples: (s.samples ?? []).map((x, n) => (n === at ? { ...x, ...to } : x)) }));
  const add = (json: string) => {
    edit((s) => ({ ...s, samples: [...(s.samples ?? []), { name: `sample ${samples.length + 1}`, json }] }));
    setNumber(samples.length + 1);
  };
  const value = open && !isMessage ? parsed(open.json) : undefined;
  const fits = !open || (isMessage ? embedded(open.json)?.kind === 'XML' : !!value);
  return (
    <section aria-label="samples" className={css.samples}>
      <Toolbar>
        <h2>Samples</h2>
        {samples.map((s, n) => (
          <button
            key={n}
            className={`link ${n === at ? 'strong' : 'soft'}`}
            aria-pressed={n === at}
            onClick={() => setNumber(n + 1)}
          >
            {s.name}
          </button>
        ))}
        {children ?? (
          <Button size="small" onClick={() => add(JSON.stringify(sampleOf(inputs), null, 2))}>
            Add a sample
          </Button>
        )}
        <span className="push" />
        {value && inputs.length === 0 && (
          <Button size="small" onClick={() => edit((s) => ({ ...s, inputs: inputsOf(value) }))}>
            Make inputs of it
          </Button>
        )}
        {open && (
          <button
            className="link soft"
            onClick={() => edit((s) => ({ ...s, samples: samples.filter((_, n) => n !== at) }))}
          >
            remove this one
          </button>
        )}
      </Toolbar>
      {open ? (
        <div className={css.inset}>
          <Name key={at} name={open.name} set={(name) => change({ name })} />
          <Input.TextArea
            aria-label={isMessage ? 'sample as XML' : 'sample as JSON'}
            className={`mono ${css.json}`}
            autoSize={{ minRows: 6, maxRows: 18 }}
            value={open.json}
            status={fits ? undefined : 'error'}
            onChange={(e) => change({ json: e.target.value })}
          />
          {!fits && <Status mood="bad">{isMessage ? 'this is no XML' : 'this is no JSON object'}</Status>}
        </div>
      ) : (
        <p className={`soft small ${css.inset}`}>
          A sample is what somebody might hand over, as {isMessage ? 'XML' : 'JSON'}. Values on the other steps are
          computed from it
          {isMessage ? '.' : '; inputs can be made of it, too.'}
        </p>
      )}
    </section>
  );
}

function Name({ name, set }: { name: string; set: (to: string) => void }) {
  const [text, setText] = useState(name);
  return (
    <Input
      size="small"
      aria-label="name of the sample"
      className={css.name}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text.trim() && set(text.trim())}
    />
  );
}
