/** A bare JSON echo on `node:http`: what the machine can do at most. */
import { createServer } from 'node:http';

const server = createServer((request, response) => {
  const chunks = [];
  request.on('data', (chunk) => chunks.push(chunk));
  request.on('end', () => {
    const body = JSON.stringify(JSON.parse(Buffer.concat(chunks).toString('utf8')));
    response.writeHead(200, {
      'content-type': 'application/json',
      'content-length': Buffer.byteLength(body),
    });
    response.end(body);
  });
});
server.listen(0, '127.0.0.1', () => process.send(server.address().port));
process.on('disconnect', () => process.exit(0));
