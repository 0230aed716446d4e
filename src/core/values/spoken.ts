/** A name out of code as people read it: `access-point` is “access point”, `powerSupply` “power supply”. What has capitals side by side is an abbreviation and stays. */
export const spoken = (name: string): string =>
  name.replaceAll('-', ' ').replace(/(?<=[a-z])[A-Z](?=[a-z])/g, (letter) => ` ${letter.toLowerCase()}`);
