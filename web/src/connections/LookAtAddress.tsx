import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { ErrorText } from '../common/ui';
import { ProbeWay } from './ProbeWay';

/** Goes to an address that could not be fetched, stage by stage; an unknown issuer can be trusted from there. */
export function LookAtAddress({ url, then }: { url: string; then: () => void }) {
  const queries = useQueryClient();
  const look = useMutation({ mutationFn: () => api.post<Api<'Way'>>('/certificates/look', { url }) });
  const trust = useMutation({
    mutationFn: (pem: string) => api.post<string[]>('/certificates', { pem, forImports: true }),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['certificates'] });
      then();
    },
  });
  if (look.data)
    return (
      <>
        <ProbeWay
          way={look.data}
          where="for imports"
          trust={(pem) => trust.mutate(pem)}
          trusting={trust.isPending || trust.isSuccess}
        />
        {trust.isError && <ErrorText error={trust.error} />}
      </>
    );
  return (
    <p>
      <Button loading={look.isPending} onClick={() => look.mutate()}>
        Look where the way ends
      </Button>
      {look.isError && <ErrorText error={look.error} />}
    </p>
  );
}
