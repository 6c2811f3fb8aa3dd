// From a key in a fill to the message that follows from it, measured in the browser on a small and on a large shape:
// bench/keystroke.mjs ADDRESS, of a running demo. It makes what it needs and removes it again.
import { browser } from '../scripts/browser.mjs';

const [address] = process.argv.slice(2);
/** Fields, and whether they have to be filled: then all but one are in the message empty, with a problem each. */
const SHAPES = [
  [10, false],
  [2000, false],
  [2000, true],
];
const KEYS = 30;
const NS = 'urn:tallow-reach:keystroke';

const wsdl = (fields, required) => `<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:t="${NS}"
 xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
 targetNamespace="${NS}" name="Keys${fields}"><types><xs:schema targetNamespace="${NS}" elementFormDefault="qualified">
<xs:element name="Ask"><xs:complexType><xs:sequence>
${Array.from({ length: fields }, (_, i) => `<xs:element name="field${i}" type="xs:string" minOccurs="${required ? 1 : 0}"/>`).join('\n')}
</xs:sequence></xs:complexType></xs:element>
<xs:element name="Answer" type="xs:string"/></xs:schema></types>
<message name="Ask"><part name="p" element="t:Ask"/></message>
<message name="Answer"><part name="p" element="t:Answer"/></message>
<portType name="P"><operation name="Ask"><input message="t:Ask"/><output message="t:Answer"/></operation></portType>
<binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
<operation name="Ask"><soap:operation soapAction="ask"/>
<input><soap:body use="literal"/></input><output><soap:body use="literal"/></output></operation></binding>
<service name="S"><port name="Keys" binding="t:B"><soap:address location="http://127.0.0.1:9/"/></port></service>
</definitions>`;

const b = await browser();
const api = (method, path, body) =>
  b.run(
    `return fetch('/api' + arguments[1], {method: arguments[0],
       headers: {'X-Wire-Kettle': '1', 'Content-Type': 'application/json'}, body: arguments[2]})
       .then(r => r.text()).then(t => t ? JSON.parse(t) : null)`,
    method,
    path,
    body ? JSON.stringify(body) : undefined,
  );

/** Milliseconds from each key to the message that has what was typed, in the page's own clock. */
async function measure(flow) {
  await b.go(`${address}/flows/${flow}?step=s2&record=1`);
  await b.find('[data-path="Ask/field0"]');
  await b.click('[data-path="Ask/field0"] .cell button');
  await b.find('[data-path="Ask/field0"] .cm-content');
  await b.run(`window.took = [];
    window.addEventListener('keydown', () => { window.at = performance.now() }, true);
    new MutationObserver(() => {
      if (window.at && document.querySelector('[aria-label="the message"]').textContent.includes(window.wanted)) {
        window.took.push(performance.now() - window.at);
        window.at = undefined;
      }
    }).observe(document.body, { subtree: true, childList: true, characterData: true });`);
  let typed = '';
  await b.keys('"');
  for (let i = 0; i < KEYS; i++) {
    typed += String.fromCharCode(97 + (i % 26));
    await b.run('window.wanted = arguments[0]', `>${typed}<`);
    await b.keys(typed.at(-1));
    for (let waited = 0; waited < 5000; waited += 20) {
      if ((await b.run('return window.took.length')) > i) break;
      await b.sleep(20);
    }
  }
  const took = await b.run('return window.took');
  if (took.length < KEYS) throw new Error(`only ${took.length} of ${KEYS} keys reached the message`);
  return took.sort((x, y) => x - y);
}

try {
  await b.go(address);
  await b.type('#name', 'mira');
  await b.type('#password', 'tallow-reach\n');
  await b.find('nav a.on');
  const medians = [];
  for (const [fields, required] of SHAPES) {
    const name = `Keys${fields}`;
    await api('POST', '/contracts', { text: wsdl(fields, required), name });
    const call = { id: 's2', kind: 'call', contract: name, port: 'Keys', operation: 'Ask', fill: [] };
    const definition = { steps: [{ id: 's1', kind: 'read', source: 'port_calls' }, call] };
    const flow = (await api('POST', '/flows', { name: `keystroke ${fields}`, definition })).id;
    try {
      const took = await measure(flow);
      medians.push(took[KEYS / 2]);
      const [half, most] = [took[KEYS / 2], took[Math.floor(KEYS * 0.9)]].map((t) => t.toFixed(0));
      console.log(
        `${fields} ${required ? 'required' : 'optional'} fields: half of the keys under ${half} ms, 90 % under ${most} ms`,
      );
    } finally {
      await api('DELETE', `/flows/${flow}`);
      await api('DELETE', `/contracts/${name}`);
    }
  }
  const ratios = medians.slice(1).map((m) => (m / medians[0]).toFixed(2));
  console.log(`ratios of the large shapes to the small one: ${ratios.join(', ')}`);
} finally {
  await b.close();
}
