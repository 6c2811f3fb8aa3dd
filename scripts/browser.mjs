// A small WebDriver client over Debian's chromedriver, for scripts that look at the pages. No packages needed.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ELEMENT = 'element-6066-11e4-a52e-4f735466cecf';
const sleep = (ms) => new Promise((r) => setTimeout(r, ms));

export async function browser({ width = 1280, height = 800 } = {}) {
  const port = 9600 + Math.floor(Math.random() * 300);
  const profile = mkdtempSync(join(tmpdir(), 'wk-browser-'));
  const driver = spawn('chromedriver', [`--port=${port}`], { stdio: 'ignore' });
  const base = `http://127.0.0.1:${port}`;
  const call = async (method, path, body) => {
    const r = await fetch(base + path, {
      method,
      headers: { 'content-type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const { value } = await r.json();
    if (value?.error) throw new Error(`${value.error}: ${value.message.split('\n')[0]}`);
    return value;
  };
  for (let i = 0; ; i++) {
    try {
      await call('GET', '/status');
      break;
    } catch (e) {
      if (i > 50) throw e;
      await sleep(100);
    }
  }
  const args = [
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--hide-scrollbars',
    `--user-data-dir=${profile}`,
    `--window-size=${width},${height}`,
  ];
  const { sessionId } = await call('POST', '/session', {
    capabilities: {
      alwaysMatch: { browserName: 'chrome', 'goog:chromeOptions': { args, binary: '/usr/bin/chromium' } },
    },
  });
  const s = `/session/${sessionId}`;
  await call('POST', `${s}/goog/cdp/execute`, {
    cmd: 'Emulation.setDeviceMetricsOverride',
    params: { width, height, deviceScaleFactor: 1, mobile: false },
  });
  const find = async (what, seconds = 8) => {
    const [using, value] = what.startsWith('//') || what.startsWith('(') ? ['xpath', what] : ['css selector', what];
    for (let i = 0; ; i++) {
      try {
        return (await call('POST', `${s}/element`, { using, value }))[ELEMENT];
      } catch (e) {
        if (i > seconds * 10) throw new Error(`nothing found for ${what}`);
        await sleep(100);
      }
    }
  };
  const page = {
    sleep,
    go: (url) => call('POST', `${s}/url`, { url }),
    find,
    click: async (what) => {
      const e = await find(what);
      for (let i = 0; ; i++) {
        try {
          return await call('POST', `${s}/element/${e}/click`, {});
        } catch (x) {
          if (i > 20) throw x;
          await sleep(100);
        }
      }
    },
    type: async (what, text) => call('POST', `${s}/element/${await find(what)}/value`, { text }),
    keys: async (...keys) =>
      call('POST', `${s}/actions`, {
        actions: [
          {
            type: 'key',
            id: 'k',
            actions: [
              ...keys.map((value) => ({ type: 'keyDown', value })),
              ...[...keys].reverse().map((value) => ({ type: 'keyUp', value })),
            ],
          },
        ],
      }),
    text: async (what) => call('GET', `${s}/element/${await find(what)}/text`),
    run: (script, ...a) => call('POST', `${s}/execute/sync`, { script, args: a }),
    shot: async (file, wait = 500) => {
      await sleep(wait);
      writeFileSync(file, Buffer.from(await call('GET', `${s}/screenshot`), 'base64'));
    },
    close: async () => {
      try {
        await call('DELETE', s);
      } finally {
        driver.kill();
        await sleep(200);
        rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
      }
    },
  };
  return page;
}
