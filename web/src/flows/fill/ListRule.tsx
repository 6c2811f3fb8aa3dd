import { Input, Popover, Segmented, Select } from 'antd';
import { useEffect, useState } from 'react';
import type { Rule, ShapeRow } from '../../api/types';
import { useEnvironment } from '../../app/environment';
import { useSourcePreview } from '../../data';
import { SourceFieldSelect, SourceSelect } from '../SourceSelect';
import { asLines, firstOf, fromLines, type List } from './lists';
import css from './ListRule.module.css';

const NOT_THERE = [
  { value: 'REFUSE', label: 'does not fit' },
  { value: 'KEEP', label: 'stays as it is' },
  { value: 'EMPTY', label: 'is no value' },
  { value: 'TEXT', label: 'becomes the text' },
];

interface Props {
  row: ShapeRow;
  rule: Rule;
  put: (r: Rule) => void;
}

/** The list in which a row's value is looked up: a source, or entries written down; and what is not in it. */
export function ListRule(props: Props) {
  const { row, rule } = props;
  const [open, setOpen] = useState(false);
  const list = rule.list;
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      placement="bottomLeft"
      destroyOnHidden
      content={<Editor {...props} close={() => setOpen(false)} />}
    >
      <button
        className={`link small nowrap ${list ? '' : 'soft quiet'}`}
        aria-label={`list of ${row.name}`}
        title="the value is looked up, and what the list gives is used"
      >
        {list ? `in ${list.source ?? `a list of ${list.entries?.length ?? 0}`}` : 'in a list'}
      </button>
    </Popover>
  );
}

function Editor({ row, rule, put, close }: Props & { close: () => void }) {
  const list = rule.list;
  const [isWritten, setWritten] = useState(!!list && !list.source);
  const set = (to: List | undefined) => put({ ...rule, list: to });
  return (
    <div
      className={css.editor}
      role="presentation"
      onKeyDown={(e) => {
        if (e.key === 'Escape') close();
      }}
    >
      <Segmented
        size="small"
        aria-label="what the list is"
        value={isWritten ? 'written' : 'source'}
        onChange={(v) => setWritten(v === 'written')}
        options={[
          { value: 'source', label: 'a source' },
          { value: 'written', label: 'written here' },
        ]}
      />
      {isWritten ? (
        <Written list={list} set={set} allowed={row.values ?? undefined} />
      ) : (
        <FromSource list={list} set={set} />
      )}
      {list && (
        <div className="row">
          <span className="soft small nowrap">What is not in it</span>
          <Select
            size="small"
            aria-label="what is not in the list"
            className={css.not}
            value={list.notThere ?? 'REFUSE'}
            onChange={(v) => set({ ...list, notThere: v === 'REFUSE' ? undefined : v })}
            options={NOT_THERE}
          />
          {list.notThere === 'TEXT' && (
            <Input
              size="small"
              className="mono"
              aria-label="text for what is not in the list"
              value={list.text ?? ''}
              onChange={(e) => set({ ...list, text: e.target.value })}
            />
          )}
        </div>
      )}
      {list && (
        <button className="link soft small" onClick={() => (set(undefined), close())}>
          use the value itself, without a list
        </button>
      )}
    </div>
  );
}

/** What stays when another list is chosen. */
const kept = (list?: List): List => ({ notThere: list?.notThere, text: list?.text });

type EditorProps = { list?: List; set: (to: List) => void };

function FromSource({ list, set }: EditorProps) {
  const environment = useEnvironment();
  const [chosen, setChosen] = useState(list?.source ?? undefined);
  const fields = useSourcePreview(chosen, environment).data?.fields;
  const source = list?.source ?? undefined;
  // What it gives is known when its fields are.
  useEffect(() => {
    if (chosen && chosen !== source && fields?.length) set({ ...kept(list), ...firstOf(chosen, fields) });
  }, [chosen, source, fields, list, set]);
  const field = (label: string, of: 'key' | 'value') => (
    <SourceFieldSelect
      source={source}
      environment={environment}
      label={label}
      value={list?.[of] ?? undefined}
      set={(name) => list && set({ ...list, [of]: name })}
    />
  );
  return (
    <div className={css.source}>
      <SourceSelect value={chosen} set={setChosen} />
      {source && source === chosen && (
        <>
          <span className="soft small">looked up by</span>
          {field('field that is looked up', 'key')}
          <span className="soft small">gives</span>
          {field('field that is given', 'value')}
        </>
      )}
    </div>
  );
}

function Written({ list, set, allowed }: EditorProps & { allowed?: string[] }) {
  const [text, setText] = useState(asLines(list?.entries));
  return (
    <>
      <Input.TextArea
        className="mono small"
        aria-label="entries of the list"
        rows={6}
        placeholder={'KX = perishable\nST = standard'}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          const entries = fromLines(e.target.value);
          set({ ...kept(list), entries });
        }}
      />
      {allowed && <span className="soft small">allowed here: {allowed.join(', ')}</span>}
    </>
  );
}
