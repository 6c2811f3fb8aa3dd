import { api, seg } from '../api/client';
import type { Api } from '../api/types';

/** Files as an import takes them: sent as they are, and named by what the server calls them. */
export async function uploaded(list: readonly File[]): Promise<{ name: string; upload: string }[]> {
  const out: { name: string; upload: string }[] = [];
  for (const f of list) {
    const name = f.webkitRelativePath || f.name;
    const stored = await api.post<Api<'StoredFile'>>(`/data/files?name=${seg(f.name)}`, f);
    out.push({ name, upload: stored.id });
  }
  return out;
}
