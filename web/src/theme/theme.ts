import { theme, type ThemeConfig } from 'antd';
import { useSyncExternalStore } from 'react';

export type Mode = 'light' | 'dark';
const KEY = 'wk.theme.1';
const listeners = new Set<() => void>();

function read(): Mode {
  const kept = localStorage.getItem(KEY);
  if (kept === 'light' || kept === 'dark') return kept;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

let mode: Mode = read();
document.documentElement.dataset.theme = mode;

export function setMode(next: Mode) {
  mode = next;
  localStorage.setItem(KEY, next);
  document.documentElement.dataset.theme = next;
  listeners.forEach((l) => l());
}

export function useMode(): Mode {
  return useSyncExternalStore(
    (l) => (listeners.add(l), () => listeners.delete(l)),
    () => mode,
  );
}

const LIGHT = {
  copper: '#9d4f27',
  ink: '#1d262e',
  panel: '#fffefb',
  paper: '#f7f5f0',
  line: '#cfc8ba',
  ok: '#1f6a5a',
  warn: '#8a5c06',
  bad: '#9e2f3c',
  soft: '#4b565f',
  faint: '#5f686e',
  input: '#ffffff',
};
const DARK = {
  copper: '#c2703f',
  ink: '#e6e3da',
  panel: '#1e2328',
  paper: '#171b1f',
  line: '#404951',
  ok: '#62b9a3',
  warn: '#d7a548',
  bad: '#e0808b',
  soft: '#b2babf',
  faint: '#929ca2',
  input: '#171b1f',
};

/** Ant Design's tokens, so that its components sit on our paper. */
export function antTheme(m: Mode): ThemeConfig {
  const c = m === 'dark' ? DARK : LIGHT;
  return {
    algorithm: m === 'dark' ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: c.copper,
      colorInfo: c.copper,
      colorSuccess: c.ok,
      colorWarning: c.warn,
      colorError: c.bad,
      colorText: c.ink,
      colorTextSecondary: c.soft,
      colorTextTertiary: c.faint,
      colorTextPlaceholder: c.faint,
      colorBgBase: c.panel,
      colorBgContainer: c.input,
      colorBgElevated: c.panel,
      colorBorder: c.line,
      colorLink: c.ink,
      borderRadius: 4,
      fontSize: 13,
      controlHeight: 28,
      controlHeightSM: 24,
      fontFamily: "'IBM Plex Sans', system-ui, sans-serif",
      fontFamilyCode: "'IBM Plex Mono', monospace",
      motionDurationMid: '0.1s',
      motionDurationSlow: '0.12s',
      wireframe: false,
    },
    components: {
      Button: { fontWeight: 500, primaryShadow: 'none', defaultShadow: 'none' },
      Segmented: {
        itemSelectedBg: m === 'dark' ? '#3a2a20' : '#f5e7dc',
        itemSelectedColor: m === 'dark' ? '#d98a5c' : c.copper,
        trackBg: 'transparent',
      },
      Input: { activeShadow: 'none' },
    },
  };
}
