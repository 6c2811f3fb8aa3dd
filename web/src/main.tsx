import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { isAway, whenLoggedOut } from './api/client';
import { Shell } from './app/Shell';
import './theme/tokens.css';
import { antTheme, useMode } from './theme/theme';

const queries = new QueryClient({ defaultOptions: { queries: { retry: (n, e) => n < 2 && isAway(e), staleTime: 5_000, refetchOnWindowFocus: false } } });
whenLoggedOut(() => queries.setQueryData(['session'], null));

function Root() {
  return (
    <ConfigProvider theme={antTheme(useMode())}>
      <AntApp component={false}>
        <QueryClientProvider client={queries}>
          <BrowserRouter><Shell /></BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </ConfigProvider>
  );
}

createRoot(document.getElementById('root')!).render(<StrictMode><Root /></StrictMode>);
