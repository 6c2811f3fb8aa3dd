import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../../api/client';
import type { Api } from '../../api/types';

const LOOK_MILLIS = 3_000;

/** Where queues are: a connection, in an environment. */
export interface At {
  connection: string;
  environment: string;
}

export const pathOf = (at: At, what = '', queue?: string) =>
  `/connections/${seg(at.connection)}/queues${what}?environment=${seg(at.environment)}` +
  (queue === undefined ? '' : `&queue=${seg(queue)}`);

export const queueKeys = { all: ['queues'] as const };

/** The queues that are looked into, with how many messages each has. */
export const useQueues = (at: At) =>
  useQuery({
    queryKey: [...queueKeys.all, at],
    refetchInterval: LOOK_MILLIS,
    retry: false,
    queryFn: () => api.get<Api<'QueueView'>[]>(pathOf(at)),
  });

/** The first messages of a queue; they stay. */
export const useMessages = (at: At, queue: string) =>
  useQuery({
    queryKey: [...queueKeys.all, at, queue],
    refetchInterval: LOOK_MILLIS,
    retry: false,
    queryFn: () => api.get<Api<'QueueMessageView'>[]>(pathOf(at, '/messages', queue)),
  });
