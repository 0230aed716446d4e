import { Command, CommanderError } from 'commander';
import { addCollectorCommand } from './commands/collector';
import { addDemoCommand } from './commands/demo';
import { addExportCommand } from './commands/export';
import { addImportCommand } from './commands/import';
import { addPeopleCommands } from './commands/people';
import { addServeCommand } from './commands/serve';
import { addSimCommand } from './commands/sim';
import { addSurveyCommand } from './commands/survey';
import { addFleetCommand } from './fleetProcess';
import { CommandError, exitCodes } from './exit';

const program = new Command('bolide')
  .description('What do we have, where is it plugged in, what is it running, and may I upgrade it tonight?')
  .exitOverride()
  .configureHelp({ showGlobalOptions: true });
for (const add of [
  addDemoCommand,
  addServeCommand,
  addSimCommand,
  addSurveyCommand,
  addExportCommand,
  addImportCommand,
  addPeopleCommands,
  addCollectorCommand,
  addFleetCommand,
])
  add(program);
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
  } else {
    console.error(error);
    process.exitCode = exitCodes.failed;
  }
}
