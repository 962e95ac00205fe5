import { build, install } from './setUp.mjs';

/** npm start: install and build what is missing, serve, print the address. PORT and HOST say where; nobody else's business unless told. */
install();
build();
process.env.NEXT_TELEMETRY_DISABLED = '1';
process.env.NODE_ENV = 'production';
const port = Number(process.env.PORT ?? 3000);
const host = process.env.HOST ?? 'localhost';
const { serve } = await import('./serve.mjs');
try {
  await serve(port, host);
} catch (error) {
  console.error(error.code === 'EADDRINUSE' ? `Port ${port} is in use: PORT=3001 npm start takes another.` : error);
  process.exit(1);
}
console.log(`\nJump Reed is at http://${host}:${port}  (Ctrl C stops it)\n`);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => process.exit(0));
