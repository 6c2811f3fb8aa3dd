import type { Api } from '../api/types';

interface Part {
  what: string;
  micros: number;
  tint: 'way' | 'waited' | 'read';
}

/** Less is no part of an answer to why a call is slow. */
const SHOWN_MICROS = 50;

/** The parts of the time of a call; without what took nothing. */
export function timesOf(wait: number, read: number, way?: Api<'WayView'>): Part[] {
  if (!way)
    return [
      { what: 'connect and wait', micros: wait, tint: 'waited' },
      { what: 'read', micros: read, tint: 'read' },
    ];
  const there = way.queueMicros + way.nameMicros + way.connectMicros + way.tlsMicros;
  const all: Part[] = [
    { what: 'set out', micros: way.queueMicros, tint: 'way' },
    { what: 'name', micros: way.nameMicros, tint: 'way' },
    { what: 'connect', micros: way.connectMicros, tint: 'way' },
    { what: 'TLS', micros: way.tlsMicros, tint: 'way' },
    { what: 'wait', micros: Math.max(0, wait - there), tint: 'waited' },
    { what: 'read', micros: read, tint: 'read' },
  ];
  return all.filter((p) => p.micros >= SHOWN_MICROS || p.tint === 'waited');
}
