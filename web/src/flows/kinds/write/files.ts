/** The next file beside one: {@code windows.csv}, {@code windows-2.csv}, {@code windows-3.csv}. */
export const nextFile = (file: string) =>
  file.replace(
    /(?:-(\d+))?(\.\w+)?$/,
    (_, n: string | undefined, end: string | undefined) => `-${Number(n ?? 1) + 1}${end ?? ''}`,
  );
