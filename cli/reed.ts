import { reed } from './program';

// A reader that has seen enough (head, less) closes the pipe: that is no failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});

process.exitCode = await reed(process.argv.slice(2));
