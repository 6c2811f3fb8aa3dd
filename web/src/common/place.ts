import type { CSSProperties } from 'react';

/** The only styles that are computed: where something stands. All others have classes. */
const INDENT_PX = 14;

/** Of a row in a tree, its content shifted to its depth. */
export const indent = (depth: number, from = 0): CSSProperties => ({ paddingLeft: from + depth * INDENT_PX });

/** Of a list of which only what is in sight is drawn (class `sparse`). */
export const tall = (height: number): CSSProperties => ({ height });

/** Of a row of such a list (class `sparse-row`). */
export const shifted = (top: number): CSSProperties => ({ top });

/** Of a field as wide as what it holds. */
export const wide = (width: number | string): CSSProperties => ({ width });

const LANE_PX = 20;
/** Deeper lanes close up. */
const CLOSE_LANE_PX = 8;
const FULL_LANES = 6;

/** How far right of the first a lane of the wire is. */
export const laneOffset = (lane: number) =>
  Math.min(lane, FULL_LANES) * LANE_PX + Math.max(0, lane - FULL_LANES) * CLOSE_LANE_PX;

/** Of a row of the outline: right of its lane. */
export const besideLane = (lane: number): CSSProperties => ({ marginLeft: laneOffset(lane) });

const GAP_PX = 4;

/** Of a list that floats below a box, or above it where there is no room for it. @param height its largest */
export const floating = (box: DOMRect, height: number): CSSProperties =>
  box.bottom + height < innerHeight
    ? { left: box.left, top: box.bottom + GAP_PX }
    : { left: box.left, bottom: innerHeight - box.top + GAP_PX };

/** Of a table with as many columns beside its first. */
export const columns = (count: number): CSSProperties => ({ '--columns': count }) as CSSProperties;
