import type { AnswerPlace, Tree } from '../../../api/types';

/** A part of an answer with what is known of it from other answers and from schemas. */
export interface Known extends Tree {
  /** Whether there may be more than one, whatever this answer has. */
  repeats?: boolean;
  /** Whether this answer has none. */
  isUnseen?: boolean;
  /** How many values of it answers had. */
  seen?: number;
  /** The type its values are of. */
  type?: string;
  children?: Known[];
}

const WHOLE =
  /^(integer|int|long|short|byte|unsigned\w+|(non)?(positive|negative)Integer|(non)(Positive|Negative)\w+)$/;

/** A type as columns have it: text where there is no nearer one. */
export function columnType(type: string): string {
  if (WHOLE.test(type)) return 'integer';
  if (type === 'float') return 'double';
  return ['decimal', 'double', 'boolean', 'date', 'dateTime', 'time'].includes(type) ? type : 'string';
}

interface Growing {
  node?: Tree;
  place?: AnswerPlace;
  inside: Map<string, Growing>;
}

const growing = (): Growing => ({ inside: new Map() });

function add(to: Growing, steps: string[], place: AnswerPlace) {
  let at = to;
  for (const s of steps) {
    const next = at.inside.get(s) ?? growing();
    at.inside.set(s, next);
    at = next;
  }
  at.place = place;
}

/** An answer, opened, with the places it has not, but others have, or may have. */
export function withPlaces(answer: Tree, places: AnswerPlace[]): Known {
  const root = growing();
  places.forEach((p) => add(root, p.path.split('/'), p));
  return known(answer, root);
}

function known(node: Tree, at: Growing): Known {
  const names = new Set(node.children?.map((c) => c.name));
  const unseen = [...at.inside].filter(([name]) => !names.has(name)).map(([name, g]) => unseenAt(name, g));
  const children = [...(node.children ?? []).map((c) => known(c, at.inside.get(c.name) ?? growing())), ...unseen];
  const about = at.place ? { repeats: at.place.repeats, type: columnType(at.place.type) } : {};
  return { ...node, ...about, ...(children.length ? { children } : {}) };
}

function unseenAt(name: string, at: Growing): Known {
  const children = [...at.inside].map(([n, g]) => unseenAt(n, g));
  return {
    name,
    isUnseen: true,
    repeats: at.place?.repeats,
    seen: at.place?.seen,
    type: at.place ? columnType(at.place.type) : undefined,
    ...(children.length ? { children } : {}),
    // An element with attributes may have a value beside them.
    ...(at.place?.isValue && children.length ? { text: ' ' } : {}),
  };
}
