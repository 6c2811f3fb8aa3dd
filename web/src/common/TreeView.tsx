import { useMemo, useState, type ReactNode } from 'react';
import type { Tree } from '../api/types';
import { DOCUMENT, embedded, ITEM, JSON_TEXT, lookup, type JsonPart } from './embedded';
import css from './TreeView.module.css';
import { indent } from './place';

const MAX_OPEN_CHILDREN = 200;
const MAX_OPENED_CHARS = 20_000;
const PREVIEW_CHARS = 160;
type Props = {
  extra?: (path: string, node: Tree) => ReactNode;
  /** Something above a document that a string at the place holds. */
  above?: (path: string, kind: 'XML' | 'JSON') => ReactNode;
  onPick?: (path: string) => void;
};
type Step = (path: string, segment: string) => string;
const inXml: Step = (path, segment) => (path ? `${path}/${segment}` : segment);

/**
 * A message or record as a tree. `extra` adds something before a node, such as a tick; its paths are of local names
 * from the root's children, through documents in strings as places. `onPick` gets XPaths.
 */
export function TreeView({ root, extra, above, onPick }: { root: Tree } & Props) {
  return (
    <div className="tree">
      <Branch node={root} path="" place="" depth={0} step={inXml} extra={extra} above={above} onPick={onPick} />
    </div>
  );
}

type BranchProps = { node: Tree; path: string; place: string; depth: number; step: Step } & Props;

function Branch({ node, path, place, depth, step, extra, above, onPick }: BranchProps) {
  const [open, setOpen] = useState(depth < 6);
  const [all, setAll] = useState(false);
  const children = node.children ?? [];
  const seen: Record<string, number> = {};
  return (
    <>
      <div className="node" style={indent(depth)}>
        {children.length > 0 ? (
          <button className={`link ${css.action}`} aria-label={open ? 'close' : 'open'} onClick={() => setOpen(!open)}>
            {open ? '▾' : '▸'}
          </button>
        ) : (
          <span className={css.text} />
        )}
        {extra?.(place, node)}
        {node.name &&
          (onPick ? (
            <button className={`link bare nowrap ${css.name}`} onClick={() => onPick(path)}>
              {node.name}
            </button>
          ) : (
            <span className={`nowrap ${css.name}`}>{node.name}</span>
          ))}
        {node.kind && (
          <span className="faint nowrap" title="the kind it says it is (xsi:type)">
            {node.kind}
          </span>
        )}
        {node.nil ? (
          <span className="faint">nil</span>
        ) : (
          node.text !== undefined && (
            <Value text={node.text} path={path} place={place} extra={extra} above={above} onPick={onPick} />
          )
        )}
        {!open && children.length > 0 && <span className="faint">{children.length} inside</span>}
      </div>
      {open &&
        children.slice(0, all ? undefined : MAX_OPEN_CHILDREN).map((c, i) => {
          seen[c.name] = (seen[c.name] ?? 0) + 1;
          const many = children.filter((x) => x.name === c.name).length > 1;
          const segment = many ? `${c.name}[${seen[c.name]}]` : c.name;
          return (
            <Branch
              key={i}
              node={c}
              path={step(path, segment)}
              place={inXml(place, (c as JsonPart).isItem ? ITEM : segment)}
              depth={depth + 1}
              step={step}
              extra={extra}
              above={above}
              onPick={onPick}
            />
          );
        })}
      {open && !all && children.length > MAX_OPEN_CHILDREN && (
        <button className="link" style={indent(depth + 1)} onClick={() => setAll(true)}>
          show {children.length - MAX_OPEN_CHILDREN} more
        </button>
      )}
    </>
  );
}

/** A text; one that is a document itself can be opened as a tree of its own. */
function Value({ text, path, place, extra, above, onPick }: { text: string; path: string; place: string } & Props) {
  const inside = useMemo(() => embedded(text), [text]);
  const isXml = inside?.kind === 'XML';
  // Where fields can be ticked, those inside the document are what is looked for.
  const [open, setOpen] = useState(!!extra && text.length < MAX_OPENED_CHARS);
  if (!inside) return <span className="text">{text}</span>;
  const base = isXml ? `parse-xml(${path || '.'})/${inside.root.name}` : `parse-json(${path || '.'})`;
  const within = isXml ? `${place}/${DOCUMENT}/${inside.root.name}` : `${place}/${JSON_TEXT}`;
  return (
    <div className={open ? 'document inside' : 'document'}>
      {!open && <span className="cut">{text.slice(0, PREVIEW_CHARS)}</span>}
      <button className={`link soft nowrap ${css.action2}`} onClick={() => setOpen(!open)}>
        {open ? `close the ${inside.kind}` : `open as ${inside.kind}`}
      </button>
      {open && (
        <div className={css.box}>
          {above?.(place, inside.kind)}
          <Branch
            node={inside.root}
            path={base}
            place={within}
            extra={extra}
            above={above}
            depth={0}
            step={isXml ? inXml : lookup}
            onPick={onPick}
          />
        </div>
      )}
    </div>
  );
}
