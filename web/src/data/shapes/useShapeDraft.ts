import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../../api/client';
import type { Api, DocumentShape, Problem } from '../../api/types';
import { useUndo } from '../../common/useUndo';
import type { ShapeSettings } from './queries';
import { shapeName, withSample, type Sample } from './samples';

/** A shape while it is edited: what samples told, or what is typed. */
export function useShapeDraft(shape?: DocumentShape) {
  const go = useNavigate();
  const queries = useQueryClient();
  const undo = useUndo();
  const [name, setName] = useState(shape?.name ?? '');
  const [kind, setKind] = useState(shape?.kind ?? 'json-schema');
  const [settings, setSettings] = useState<ShapeSettings>(shape?.settings ?? { files: [] });
  const [samples, setSamples] = useState<Sample[]>([]);
  const [notes, setNotes] = useState<Problem[]>([]);
  const learn = useMutation({
    mutationFn: (from: Sample[]) =>
      api.post<Api<'LearntShape'>>('/data/shapes/learn', { name: name || undefined, samples: from }),
    onSuccess: (learnt, from) => {
      setSamples(from);
      setKind(learnt.kind);
      setSettings(learnt.settings);
      setNotes(learnt.notes);
      const first = from[0]?.name ?? '';
      if (!name && !first.startsWith('pasted')) setName(shapeName(first));
    },
  });
  const save = useMutation({
    mutationFn: () => api.put(`/data/shapes/${seg(name.trim())}`, { kind, settings }),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go(`/data/shapes/${seg(name.trim())}`);
    },
  });
  const remove = useMutation({
    mutationFn: () => api.delete(`/data/shapes/${seg(name)}`),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/data');
      undo(`Removed ${name}.`, async () => {
        await api.put(`/data/shapes/${seg(name)}`, { kind: shape?.kind, settings: shape?.settings });
        await queries.invalidateQueries();
      });
    },
  });
  return {
    name,
    setName,
    kind,
    settings,
    notes,
    samples,
    learn,
    save,
    remove,
    add: (s: Sample) => learn.mutate(withSample(samples, s)),
    drop: (gone: string) => {
      const left = samples.filter((s) => s.name !== gone);
      if (left.length) learn.mutate(left);
      else {
        setSamples([]);
        setSettings({ files: [] });
      }
    },
    setText: (file: number, text: string) => {
      setNotes([]);
      setSettings((s) => ({ ...s, files: s.files.map((f, i) => (i === file ? { ...f, text } : f)) }));
    },
    setRoot: (root: string) => setSettings((s) => ({ ...s, root })),
    changed: !shape || JSON.stringify(shape.settings) !== JSON.stringify(settings),
  };
}
