/**
 * hrSWInstalledName holds name and version in one text, written as the machine's package system writes them: `name_version_architecture`,
 * `name-version-release.architecture`, or words with the version last. What fits none of these is all name.
 */
export function softwareName(text: string): { name: string; version: string } {
  const underscored = /^([^_\s]+)_([^_\s]+)_[a-z0-9-]+$/.exec(text);
  if (underscored) return { name: underscored[1] ?? text, version: underscored[2] ?? '' };
  const dashed = /^(\S+?)-(\d\S*-\S+)\.(?:noarch|x86_64|aarch64|i[3-6]86|ppc64le|s390x)$/.exec(text);
  if (dashed) return { name: dashed[1] ?? text, version: dashed[2] ?? '' };
  const spaced = /^(.+?),?\s+(?:version\s+|v)?(\d[\w.+:~-]*)$/i.exec(text);
  if (spaced) return { name: spaced[1] ?? text, version: spaced[2] ?? '' };
  return { name: text, version: '' };
}
