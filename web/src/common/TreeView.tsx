import { useState, type ReactNode } from 'react';
import type { Tree } from '../api/types';

const MAX_OPEN_CHILDREN = 200;

/** A message or record as a tree. `extra` adds something before a node, such as a tick; paths are of local names from the root's children. */
export function TreeView({ root, extra, onPick }: { root: Tree; extra?: (path: string, node: Tree) => ReactNode; onPick?: (path: string) => void }) {
  return <div className="tree"><Branch node={root} path="" depth={0} extra={extra} onPick={onPick} /></div>;
}

function Branch({ node, path, depth, extra, onPick }: { node: Tree; path: string; depth: number; extra?: (path: string, node: Tree) => ReactNode; onPick?: (path: string) => void }) {
  const [open, setOpen] = useState(depth < 6);
  const [all, setAll] = useState(false);
  const children = node.children ?? [];
  const seen: Record<string, number> = {};
  return (
    <>
      <div className="node" style={{ paddingLeft: depth * 14 }}>
        {children.length > 0
          ? <button className="link" style={{ textDecoration: 'none', width: 12 }} aria-label={open ? 'close' : 'open'} onClick={() => setOpen(!open)}>{open ? '▾' : '▸'}</button>
          : <span style={{ width: 12, flex: 'none' }} />}
        {extra?.(path, node)}
        <span className="nowrap" style={{ color: 'var(--tag)', cursor: onPick ? 'pointer' : undefined }} onClick={() => onPick?.(path)}>{node.name}</span>
        {node.nil ? <span className="faint">nil</span> : node.text !== undefined && <span style={{ overflowWrap: 'anywhere' }}>{node.text}</span>}
        {!open && children.length > 0 && <span className="faint">{children.length} inside</span>}
      </div>
      {open && children.slice(0, all ? undefined : MAX_OPEN_CHILDREN).map((c, i) => {
        seen[c.name] = (seen[c.name] ?? 0) + 1;
        const many = children.filter((x) => x.name === c.name).length > 1;
        const segment = many ? `${c.name}[${seen[c.name]}]` : c.name;
        return <Branch key={i} node={c} path={path ? `${path}/${segment}` : segment} depth={depth + 1} extra={extra} onPick={onPick} />;
      })}
      {open && !all && children.length > MAX_OPEN_CHILDREN && <button className="link" style={{ marginLeft: (depth + 1) * 14 }} onClick={() => setAll(true)}>show {children.length - MAX_OPEN_CHILDREN} more</button>}
    </>
  );
}
