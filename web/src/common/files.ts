import { seg } from '../api/client';

/** The API's path of a file of the folder: each part of its name is one of the path. */
export const filePath = (name: string) => `/files/${name.split('/').map(seg).join('/')}`;

const REFERENCE = /^(["']?)file:([^"']+)\1$/;

/** The file that an attribute's value names in a message; undefined when it names none. */
export function fileIn(value: string): string | undefined {
  const name = REFERENCE.exec(value)?.[2];
  return name?.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&quot;', '"').replaceAll('&amp;', '&');
}
