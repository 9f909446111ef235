import { queryOptions, useMutation, useQuery } from '@tanstack/react-query';
import { answer, api, type Session } from './client';

/** Who this browser is to the server. */
const sessionQuery = queryOptions<Session>({
  queryKey: ['session'],
  queryFn: async ({ signal }) => (await api.GET('/api/session', { signal })).data!,
  staleTime: Infinity,
  retry: false,
});

export const useSession = () => useQuery(sessionQuery);

/** Signs in; then everything is asked for anew. */
export const useSignIn = () =>
  useMutation({
    mutationFn: (password: string) => answer(api.POST('/api/session', { body: { password } })),
    onSuccess: () => location.reload(),
  });

export const useSignOut = () =>
  useMutation({
    mutationFn: () => answer(api.DELETE('/api/session', {})),
    onSettled: () => location.reload(),
  });
