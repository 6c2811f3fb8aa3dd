// Takes the pictures in docs/screenshots from a running demo: scripts/screenshots.mjs ADDRESS [NAME...]
// The settings are an administrator's: WK_ADMIN_PASSWORD is their password.
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { browser } from './browser.mjs';

const [address, ...only] = process.argv.slice(2);
const folder = join(dirname(fileURLToPath(import.meta.url)), '..', 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });
const b = await browser();
const api = (method, path, body) =>
  b.run(
    `return fetch('/api${path}', {method: '${method}', headers: {'X-Wire-Kettle': '1', 'Content-Type': 'application/json'}, body: arguments[0]}).then(r => r.text()).then(t => t ? JSON.parse(t) : null)`,
    body ? JSON.stringify(body) : undefined,
  );
const views = {
  contracts: async () => {
    await b.go(`${address}/contracts`);
    await b.find('table');
  },
  bench: async () => {
    await b.go(`${address}/contracts/TideDesk/TideDesk12/GetTideWindow`);
    await b.run('localStorage.removeItem("wk.bench.1.TideDesk/TideDesk12/GetTideWindow")');
    await b.go(`${address}/contracts/TideDesk/TideDesk12/GetTideWindow`);
    for (const [l, v] of [
      ['portCode', 'TLWRC'],
      ['arrival', '2031-04-02T21:40:00'],
      ['draught', '7.2'],
    ])
      await b.type(`[aria-label^=${l}]`, v);
    await b.click("//button[contains(.,'Send')]");
    await b.find("//*[.='clearance']");
    await b.type('[aria-label="XPath over the answer"]', 'window/slot[depth >= 8]/berth');
  },
  import: async () => {
    await b.go(`${address}/contracts/import`);
    await b.click("//button[.='Ask the registry']");
    await b.find("//button[.='Import its WSDL']");
  },
  contract: async () => {
    await b.go(`${address}/contracts/HarbourDues`);
    await b.find("//button[contains(.,'add the missing')]");
  },
  published: async () => {
    await b.go(`${address}/published/tide windows`);
    await b.click("//button[starts-with(., 'Try it')]");
    await b.find("//*[contains(., '200 in')]");
  },
  shapes: async () => {
    await b.go(`${address}/contracts/CargoManifest/Cargo/FileManifest?show=shapes`);
    await b.find("//*[contains(.,'sailed')]");
  },
  connections: async () => {
    await b.go(`${address}/connections/tide-desk-tls`);
    await b.click("//button[.='Probe test']");
    await b.find("//*[contains(.,'Trust this issuer')]");
  },
  session: async () => {
    const tls = (await api('GET', '/connections')).find((c) => c.name === 'tide-desk-tls').environments.test.url;
    const at = tls.replace('/tidedesk', '/berths');
    const { chain } = await api('POST', '/certificates/look', { url: `${at}?wsdl` });
    const [issuer] = await api('POST', '/certificates', { pem: chain[1].pem, forImports: true });
    await api('POST', '/contracts', { url: `${at}?wsdl`, name: 'BerthPlanner' });
    await api('PUT', '/connections/berth-planner', {
      kind: 'soap',
      settings: {
        user: 'agency',
        token: 'digest',
        timestamp: true,
        session: {
          contract: 'BerthPlanner',
          operation: 'OpenSession',
          fill: [{ path: 'OpenSession/agency', text: 'GANNET' }],
          token: '$reply/sessionId',
          again: ['fault SessionEnded'],
        },
        messageHeaders: [
          { path: 'header:SessionHeader/token', xpath: '$login/token' },
          { path: 'header:SessionHeader/agency', text: 'GANNET' },
        ],
      },
      environments: {
        test: { url: at, secret: 'berths-test', trust: [issuer] },
        live: { url: at, secret: 'berths-live', trust: [issuer], parallel: 2 },
      },
      secrets: { 'berths-test': 'sole', 'berths-live': 'sole' },
    });
    await api('POST', '/contracts/BerthPlanner/bench/send', {
      port: 'BerthPlanner12',
      operation: 'ListBerths',
      connection: 'berth-planner',
      environment: 'test',
      rules: [{ path: 'ListBerths/portCode', text: 'TLWRC' }],
    });
    await b.go(`${address}/connections/berth-planner`);
    await b.find("//*[contains(.,'a session since')]");
    await b.click("//button[.='Probe test']");
    await b.find("//*[contains(.,'its WSDL is at')]");
    await b.run(`document.querySelector('section[aria-label=connection]').scrollTop = 230`);
  },
  data: async () => {
    await b.go(`${address}/data/sources/manifests`);
    await b.find('td.n');
    await b.click("//button[@aria-label='record 6']");
  },
  fill: async () => {
    await b.go(`${address}/flows/1?step=s2&record=17`);
    await b.find("//*[contains(.,'fits its schema')]");
    await b.find("//*[contains(.,'fits ') and contains(.,' of ')]");
  },
  'make-flow': async () => {
    await b.go(`${address}/flows/new?contract=TideDesk&port=TideDesk12&operation=GetTideWindow`);
    await b.click("//*[@aria-label='source']/ancestor::*[contains(@class,'ant-select')][1]");
    await b.click("//*[contains(@class,'ant-select-item-option') and contains(.,'port_calls')]");
    await b.find("//*[contains(.,'all that is required')]");
    await b.find("//*[contains(.,'call_ref, ')]");
  },
  pick: async () => {
    const { id } = (await api('GET', '/flows')).find((f) => f.name === 'Bulletins for the watch');
    await api('POST', '/design/try', {
      flow: id,
      definition: (await api('GET', `/flows/${id}`)).definition,
      step: 's2',
      environment: 'test',
      number: 1,
    });
    await b.go(`${address}/flows/${id}?step=s3`);
    await b.find('.ant-checkbox-checked');
  },
  run: async () => {
    let runs = (await api('GET', '/runs')).filter((r) => r.scope === 'all' && r.setAside === 7);
    if (!runs.length) {
      await api('POST', '/runs', { flow: 1, environment: 'test', scope: 'all' });
      await b.sleep(4000);
      runs = (await api('GET', '/runs')).filter((r) => r.scope === 'all');
    }
    await b.go(`${address}/runs/${runs[0].id}?record=89`);
    await b.find("//button[.='answer']");
    await b.click("//button[.='answer']");
  },
  'blocks-run': async () => {
    await api('POST', '/runs', { flow: 2, environment: 'test', scope: 'all' });
    await b.sleep(5000);
    const runs = (await api('GET', '/runs')).filter((r) => r.flow === 2);
    await b.go(`${address}/runs/${runs[0].id}?record=7`);
    await b.find("//*[contains(.,'part 1')]");
  },
  blocks: async () => {
    const at = { flow: 2, step: 'log', environment: 'test', number: 1 };
    await api('POST', '/design/run-to', { ...at, definition: (await api('GET', '/flows/2')).definition });
    await b.go(`${address}/flows/2?step=each`);
    await b.find("//*[contains(.,'order_no')]");
  },
  'by-hand': async () => {
    await b.go(`${address}/contracts/by-hand`);
    await b.type('#contract-name', 'TugRoster');
    await b.type('#contract-address', 'http://127.0.0.1:8091/tugs');
    await b.type('#operation-path', 'tugs/{tugNo}/orders');
    await b.click("//button[.='another value']");
    await b.type("[aria-label='parameter 2']", 'state');
    await b.type(
      "[aria-label='sample of the answer']",
      '{"tug": "Copper Gull", "orders": [{"orderNo": 812, "at": "2031-04-02T21:40:00Z", "pull_t": 42.5,\n' +
        '  "ship": {"vesselNo": "7340006", "name": "Northern Godwit"}}, {"orderNo": 815, "waits": true}]}',
    );
    await b.find("//td[normalize-space(.)='vesselNo']");
  },
  'fill-dark': async () => {
    const manifests = (await api('GET', '/flows')).find((f) => f.name.startsWith('Manifests')).id;
    await b.go(`${address}/flows/${manifests}?step=s3`);
    await b.run('localStorage.setItem("wk.theme.1", "dark")');
    await b.go(`${address}/flows/${manifests}?step=s3`);
    await b.find("//*[contains(.,'fits its schema')]");
    await b.find("//*[contains(.,'fits ') and contains(.,' of ')]");
    await b.click("(//aside[@aria-label='specimen']//button[starts-with(.,'line')])[1]");
    await b.run("document.querySelector('[role=grid]').scrollTop = 300");
  },
  'run-page': async () => {
    await b.go(`${address}/pages/tide-windows`);
    await b.type("//label[contains(., 'Draught')]/following-sibling::input", '7,2');
    await b.click("//button[contains(., 'Look for')]");
    await b.find("//section[@aria-label='answer']//td");
  },
  changes: async () => {
    const services = new URL((await api('GET', '/contracts/CargoManifest')).source).origin;
    await api('POST', '/contracts', { url: `${services}/tidedesk/next?wsdl`, name: 'TideDesk' });
    await b.go(`${address}/contracts/TideDesk?show=changes`);
    await b.find("//*[contains(.,'made for an older version')]");
  },
};
try {
  await b.go(address);
  await b.type('#name', 'mira');
  await b.type('#password', 'tallow-reach\n');
  await b.find('nav a.on');
  for (const [name, prepare] of Object.entries(views)) {
    if (only.length && !only.includes(name)) continue;
    await prepare();
    await b.shot(join(folder, `${name}.png`), 900);
    await b.run('localStorage.removeItem("wk.theme.1")');
  }
} finally {
  await b.close();
}
