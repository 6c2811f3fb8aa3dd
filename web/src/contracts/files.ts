/** Files as the API takes them. */
export async function uploaded(list: readonly File[]): Promise<{ name: string; base64: string }[]> {
  return Promise.all(list.map(async (f) => ({ name: f.webkitRelativePath || f.name, base64: await base64(f) })));
}

async function base64(f: File): Promise<string> {
  const bytes = new Uint8Array(await f.arrayBuffer());
  let out = '';
  for (let i = 0; i < bytes.length; i += 0x8000) out += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(out);
}
