/** Where the program's own files lie (migrations, signatures, catalogue). */
export function programFolder(): string {
  return process.env.BOLIDE_HOME ?? process.cwd();
}
