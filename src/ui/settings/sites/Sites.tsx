export function Sites() {
  return null;
}
