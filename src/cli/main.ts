import { Command, CommanderError } from 'commander';
import { CommandError, exitCodes } from './exit';

type Add = (program: Command) => void;

/** What each command is made of is read when it is asked for: most of the program is needed by few of them. */
const commands: Record<string, () => Promise<Add>> = {
  demo: async () => (await import('./commands/demo')).addDemoCommand,
  serve: async () => (await import('./commands/serve')).addServeCommand,
  web: async () => (await import('./commands/web')).addWebCommand,
  engine: async () => (await import('./commands/engine')).addEngineCommand,
  flows: async () => (await import('./commands/flows')).addFlowsCommand,
  sim: async () => (await import('./commands/sim')).addSimCommand,
  survey: async () => (await import('./commands/survey')).addSurveyCommand,
  export: async () => (await import('./commands/export')).addExportCommand,
  rehearse: async () => (await import('./commands/rehearse')).addRehearseCommand,
  images: async () => (await import('./commands/images')).addImagesCommand,
  waves: async () => (await import('./commands/waves')).addWavesCommand,
  suspects: async () => (await import('./commands/rehearse')).addSuspectsCommand,
  import: async () => (await import('./commands/import')).addImportCommand,
  user: async () => (await import('./commands/people')).addUserCommand,
  token: async () => (await import('./commands/people')).addTokenCommand,
  key: async () => (await import('./commands/key')).addKeyCommand,
  backup: async () => (await import('./commands/backup')).addBackupCommand,
  restore: async () => (await import('./commands/backup')).addRestoreCommand,
  capture: async () => (await import('./commands/capture')).addCaptureCommand,
  collector: async () => (await import('./commands/collector')).addCollectorCommand,
  fleet: async () => (await import('./fleetProcess')).addFleetCommand,
};

const program = new Command('bolide')
  .description('What do we have, where is it plugged in, what is it running, and may I upgrade it tonight?')
  .exitOverride()
  .configureHelp({ showGlobalOptions: true });
const asked = commands[process.argv[2] ?? ''];
for (const load of asked ? [asked] : Object.values(commands)) (await load())(program);
const refuse = (command: Command): void => {
  command.exitOverride();
  command.commands.forEach(refuse);
};
refuse(program);

// whoever reads our output may stop before its end: `bolide export … | head`
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(exitCodes.done);
  throw error;
});

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? exitCodes.done : exitCodes.wrongInput;
  else if (error instanceof CommandError) {
    console.error(error.message);
    process.exitCode = error.code;
  } else if (error instanceof Error && error.name === 'NewerDatabase') {
    console.error(error.message);
    process.exitCode = exitCodes.failed;
  } else {
    console.error(error);
    process.exitCode = exitCodes.failed;
  }
}
