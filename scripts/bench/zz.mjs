// profile checks
import autocannon from 'autocannon';
import { randomUUID } from 'node:crypto';
import { inFolder, signIn, startServer } from '/tmp/server.mjs';
const kind = process.argv[2];
await inFolder(async (folder) => {
  const { base, stop } = await startServer(folder);
  const { cookie, ask } = await signIn(base);
  const [workbook] = await ask('GET', '/api/workbooks');
  const { sheets } = await ask('GET', `/api/workbooks/${workbook.id}`);
  const formId = sheets.find(({ name }) => name === 'Samples').forms[0].id;
  const { sheet } = await ask('GET', `/api/forms/${formId}`);
  const observers = sheet.columns.find(({ id }) => id === 'samples.observer').settings.choices;
  const answers = {'samples.date': '24/11/2026','samples.time': '9:30','samples.river': 'Mereling','samples.station': 'ME-01','samples.observer': observers[0],'samples.water-temp': '7.5','samples.ph': '7.2','samples.notes': 'Two herons on the far bank'};
  const r = await autocannon({ url: `${base}/api/forms/${formId}/${kind}`, connections: 32, duration: 12, method: 'POST', headers: { 'content-type': 'application/json', cookie }, requests: [{ setupRequest: (q) => ({ ...q, body: JSON.stringify({ writeId: randomUUID(), answers }) }) }] });
  console.log(kind, r['2xx'] / r.duration, r.non2xx);
  await stop();
});
process.exit();
