import { laneOffset } from '../common/place';
import type { WireRow } from './outlineRows';

/** Thickness of the wire, in pixels, for so many records: logarithmic, so that one and a million both can be seen. */
export const thickness = (n?: number | null) => (n == null ? 2 : n <= 0 ? 1 : 2 + Math.log10(n) * 2.1);

const FIRST = 14;
const x = (lane: number) => FIRST + laneOffset(lane);

const STEP_NODE = 17;
const ARM_NODE = 14;
/** Where a strand that leaves has reached its lane. */
const LEFT = 24;

/** From one lane to another; straight down when they are the same. */
const curve = (from: number, to: number, y1: number, y2: number) =>
  from === to
    ? `M${x(from)} ${y1} L${x(to)} ${y2}`
    : `M${x(from)} ${y1} C${x(from)} ${(y1 + y2) / 2} ${x(to)} ${(y1 + y2) / 2} ${x(to)} ${y2}`;

interface Props {
  row: WireRow;
  into?: number | null;
  out?: number | null;
  aside: number;
  isStep: boolean;
  isOff: boolean;
  moving?: boolean;
}

const TOP = -1;
/** Where a strand that comes back has joined, and one that leaves begins. */
const JOINT = 9;

/** The wire through one row of an outline: it turns at the top of a row, left of its words. */
export function Wire({ row, into, out, aside, isStep, isOff, moving }: Props) {
  const node = isStep ? STEP_NODE : ARM_NODE;
  const lane = row.leaves ?? row.at;
  const turns = row.from !== lane;
  return (
    <svg aria-hidden>
      {row.past.map((p) => (
        <Strand key={p.lane} lane={p.lane} y2="101%" dotted={p.dotted} n={p.count} />
      ))}
      {row.ended.map((p) => (
        <path
          key={p.lane}
          d={curve(p.lane, lane, TOP, row.leaves === null ? node : JOINT)}
          fill="none"
          stroke="var(--copper)"
          strokeWidth={thickness(p.count)}
        />
      ))}
      {row.beside && <Strand lane={row.at} y2={node} dotted={row.beside.dotted} n={row.beside.count} />}
      {!row.isFirst && (turns || row.leaves === null) && (
        <path
          d={curve(row.from, lane, turns ? TOP : -1, row.leaves === null ? node : JOINT)}
          fill="none"
          stroke="var(--copper)"
          strokeWidth={thickness(into)}
        />
      )}
      {row.leaves !== null && (
        <path
          d={curve(row.leaves, row.at, turns ? JOINT : TOP, LEFT)}
          fill="none"
          stroke="var(--copper)"
          strokeWidth={thickness(out)}
        />
      )}
      {!row.isLast && (
        <line
          x1={x(row.at)}
          x2={x(row.at)}
          y1={row.leaves === null ? node : LEFT}
          y2="101%"
          stroke="var(--copper)"
          strokeWidth={thickness(out)}
          strokeDasharray={moving ? '14 3' : undefined}
        >
          {moving && <animate attributeName="stroke-dashoffset" from="17" to="0" dur="0.7s" repeatCount="indefinite" />}
        </line>
      )}
      {aside > 0 && (
        <path
          d={`M${x(row.at)} 24 C${x(row.at)} 42 ${x(row.at) + 8} 40 ${x(row.at) + 17} 40`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth={Math.max(1.5, thickness(aside) * 0.7)}
        />
      )}
      {isStep && (
        <circle
          cx={x(row.at)}
          cy={node}
          r="4.5"
          fill="var(--panel)"
          stroke="var(--copper)"
          strokeWidth="2"
          strokeDasharray={isOff ? '2 2' : undefined}
        />
      )}
    </svg>
  );
}

/** Records that are elsewhere meanwhile. */
const Strand = ({ lane, y2, dotted, n }: { lane: number; y2: number | string; dotted: boolean; n: number | null }) => (
  <line
    x1={x(lane)}
    x2={x(lane)}
    y1="-1"
    y2={y2}
    stroke="var(--copper)"
    strokeWidth={dotted ? 2 : thickness(n)}
    strokeDasharray={dotted ? '2 4' : undefined}
    opacity={dotted || n === 0 ? 0.6 : 1}
  />
);
