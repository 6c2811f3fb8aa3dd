import { useAbout, usePutAbout, type AboutKind } from './queries';

/** Marks a thing, so that it comes first where it is listed. */
export function Mark({ kind, name, label }: { kind: AboutKind; name: string; label: string }) {
  const about = useAbout().of(kind, name);
  const put = usePutAbout();
  return (
    <button
      className={`link small nowrap ${about.marked ? '' : 'soft'}`}
      aria-pressed={about.marked}
      title={`Where they are listed, marked ones come first: ${label}`}
      onClick={() => put.mutate({ ...about, marked: !about.marked })}
    >
      {about.marked ? 'marked' : 'mark'}
    </button>
  );
}
