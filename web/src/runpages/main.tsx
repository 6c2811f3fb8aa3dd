import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import '../theme/tokens.css';
import { Pages } from './Guest';
import { RunPage } from './RunPage';

const page = decodeURIComponent(location.pathname.replace(/^\/pages\/?/, '').replace(/\/$/, ''));
const isDark = matchMedia('(prefers-color-scheme: dark)').matches;
document.documentElement.dataset.theme = isDark ? 'dark' : 'light';

createRoot(document.getElementById('root')!).render(
  <StrictMode>{page ? <RunPage page={page} /> : <Pages />}</StrictMode>,
);
