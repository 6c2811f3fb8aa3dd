import type { StepKind } from '../kind';
import { fromXPath, placeWords } from './paths';
import { kindsOf, resultName } from './picking';
import { PickPanel } from './PickPanel';

const placeOf = (each: string) => {
  const place = fromXPath(each);
  return place === null ? each : placeWords(place);
};

export const pick: StepKind<'pick'> = {
  kind: 'pick',
  about: 'result records out of the answer',
  fresh: { kind: 'pick', columns: [] },
  title: (s) => {
    if (s.columns.length === 0) return 'choose what a result is';
    const more = s.also?.length ?? 0;
    const first = s.each ? `each ${placeOf(s.each)}` : 'the whole answer';
    if (more === 0) return first;
    return `${first} and ${more} more ${more === 1 ? 'kind' : 'kinds'}`;
  },
  note: (s) =>
    kindsOf(s)
      .map((k) => `$${resultName(k)}`)
      .join(' '),
  isOpen: (s) => kindsOf(s).some((k) => k.columns.length === 0),
  Panel: PickPanel,
};
