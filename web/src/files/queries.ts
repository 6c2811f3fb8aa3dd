import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';
import type { Api } from '../api/types';

export const fileKeys = { list: ['files'] as const };

/** Files that messages take, and those that came with answers; the newest first. */
export const useFiles = (enabled = true) =>
  useQuery({ queryKey: fileKeys.list, enabled, queryFn: () => api.get<Api<'FilesView'>>('/files') });

/** Whether a row of that type holds bytes, which a file can give. */
export const takesFile = (type: string | undefined) => /(^|\s)(base64Binary|swaRef)$/.test(type ?? '');
