import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { EndpointView } from '../api/types';
import { freeName } from '../common/freeName';
import { ErrorText } from '../common/ui';
import { endpointKeys } from './queries';
import css from './TryIt.module.css';

/** Keeps what is typed to be tried again, and removes what was kept. */
export function KeptSamples({ of: e, sample }: { of: EndpointView; sample: string }) {
  const queries = useQueryClient();
  const [name, setName] = useState<string>();
  const at = (n: string) => `/endpoints/${seg(e.name)}/samples/${seg(n)}`;
  const refresh = () => queries.invalidateQueries({ queryKey: endpointKeys.all });
  const keep = useMutation({
    mutationFn: (n: string) => api.put(at(n), { sample }),
    onSuccess: () => {
      setName(undefined);
      return refresh();
    },
  });
  const drop = useMutation({ mutationFn: (n: string) => api.delete(at(n)), onSuccess: refresh });
  const same = e.kept.find((s) => s.json === sample);
  const isThere = !!same || e.samples.some((s) => s.json === sample);
  return (
    <div className={`row wrap ${css.samples}`}>
      {name === undefined && !isThere && (
        <button
          className="link soft"
          onClick={() =>
            setName(
              freeName(
                'sample',
                [...e.samples, ...e.kept].map((s) => s.name),
              ),
            )
          }
        >
          keep as a sample
        </button>
      )}
      {name !== undefined && (
        <Input
          size="small"
          autoFocus
          aria-label="name of the sample"
          className={css.sample}
          value={name}
          onChange={(x) => setName(x.target.value)}
          onKeyDown={(k) => {
            if (k.key === 'Escape') setName(undefined);
          }}
          onPressEnter={(k) => {
            // With Ctrl it is tried instead.
            if (!k.ctrlKey && name.trim()) keep.mutate(name.trim());
          }}
        />
      )}
      {same && (
        <button className="link soft" onClick={() => drop.mutate(same.name)}>
          remove the sample {same.name}
        </button>
      )}
      <ErrorText error={keep.error ?? drop.error} />
    </div>
  );
}
