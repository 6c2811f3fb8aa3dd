import type { ReactNode } from 'react';

const ADDRESS = /(https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)\]])/;

/** A text whose addresses are links; they open beside the page, which tells them nothing. */
export const linked = (text: string): ReactNode[] =>
  text.split(ADDRESS).map((part, i) =>
    i % 2 === 0 ? (
      part
    ) : (
      <a key={i} href={part} target="_blank" rel="noopener noreferrer">
        {part}
      </a>
    ),
  );
