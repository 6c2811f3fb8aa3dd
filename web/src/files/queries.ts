import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';

export const fileKeys = { list: ['files'] as const };

/** Files that messages take, and those that came with answers; the newest first. */
export const useFiles = (enabled = true) =>
  useQuery({ queryKey: fileKeys.list, enabled, queryFn: () => api.get<Api<'FilesView'>>('/files') });

/** Each part of a name is one of the path. */
export const filePath = (name: string) => `/files/${name.split('/').map(seg).join('/')}`;

/** Whether a row of that type holds bytes, which a file can give. */
export const takesFile = (type: string | undefined) => /(^|\s)(base64Binary|swaRef)$/.test(type ?? '');
