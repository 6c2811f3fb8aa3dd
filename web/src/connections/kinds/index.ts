import { database } from './database';
import type { ConnectionKind } from './kind';
import { queue } from './queue';
import { soap } from './soap';

export const KINDS: ConnectionKind[] = [soap, database, queue];
export const kindNamed = (kind: string) => KINDS.find((k) => k.kind === kind) ?? soap;
