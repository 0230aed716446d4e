import { hostOf, memberKey, type Application, type Member, type MemberRule } from './application';

/** @param hostName what a device is called */
export function memberWords(member: Member, hostName: (deviceId: number) => string): string {
  const host = hostOf(member);
  const words = host === null ? '' : host.deviceId > 0 ? hostName(host.deviceId) : host.address;
  return member.kind === 'device' ? words : words ? `${member.service} on ${words}` : member.service;
}

const verdictWords = {
  in: 'taken in',
  stop: 'taken in, not gone after further',
  shared: 'shared with others',
  out: 'left out',
} as const;

/** What became of an application from one version to the next, a short line each. @param hostName what a device is called */
export function applicationDifference(
  before: Application | null,
  after: Application | null,
  hostName: (deviceId: number) => string,
): string[] {
  if (!after) return ['removed'];
  const lines: string[] = before ? [] : ['begun'];
  const was = before ?? {
    name: after.name,
    owner: '',
    criticality: after.criticality,
    contacts: [],
    note: '',
    rules: [],
    needed: [],
  };
  if (was.name !== after.name) lines.push(`called ${after.name}, before ${was.name}`);
  if (was.criticality !== after.criticality) lines.push(`criticality ${after.criticality}, before ${was.criticality}`);
  if (was.owner !== after.owner) lines.push(after.owner ? `owner ${after.owner}` : 'no owner any more');
  if (was.contacts.join('\n') !== after.contacts.join('\n'))
    lines.push(after.contacts.length > 0 ? `to tell: ${after.contacts.join(', ')}` : 'nobody to tell any more');
  if (was.note !== after.note) lines.push('another note');
  const byKey = (rules: readonly MemberRule[]) => new Map(rules.map((rule) => [memberKey(rule.member), rule]));
  const [old, now] = [byKey(was.rules), byKey(after.rules)];
  for (const [key, { member, verdict }] of now)
    if (old.get(key)?.verdict !== verdict) lines.push(`${memberWords(member, hostName)} ${verdictWords[verdict]}`);
  for (const [key, { member }] of old)
    if (!now.has(key)) lines.push(`nothing said of ${memberWords(member, hostName)} any more`);
  const share = (application: Pick<Application, 'needed'>, service: string) =>
    application.needed.find((one) => one.service === service)?.atLeast ?? 1;
  for (const service of new Set([...was.needed, ...after.needed].map((one) => one.service)))
    if (share(was, service) !== share(after, service))
      lines.push(`${share(after, service)} of ${service} must go on, before ${share(was, service)}`);
  return lines;
}
