import { QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { isAway, whenLoggedOut } from './api/client';
import { Shell } from './app/Shell';
import './theme/tokens.css';
import { antTheme, useMode } from './theme/theme';

const AGAIN_MILLIS = 2_000;
const queries: QueryClient = new QueryClient({
  // Whoever notices first that the server is away has the frame look, too, which then says so.
  queryCache: new QueryCache({
    onError: (e, q) => {
      if (isAway(e) && q.queryKey[0] !== 'overview') void queries.invalidateQueries({ queryKey: ['overview'] });
    },
  }),
  defaultOptions: {
    queries: {
      retry: (n, e) => n < 2 && isAway(e),
      retryDelay: 500,
      staleTime: 5_000,
      refetchOnWindowFocus: false,
      refetchInterval: (q) => (q.state.status === 'error' && isAway(q.state.error) ? AGAIN_MILLIS : false),
    },
  },
});
whenLoggedOut(() => queries.setQueryData(['session'], null));

function Root() {
  return (
    <ConfigProvider theme={antTheme(useMode())}>
      <AntApp component={false}>
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <Shell />
          </BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </ConfigProvider>
  );
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Root />
  </StrictMode>,
);
