/** Contents of facts by the device they are of. */
export function byDevice<Content>(facts: readonly { deviceId: number; content: Content }[]): Map<number, Content[]> {
  const found = new Map<number, Content[]>();
  for (const { deviceId, content } of facts) {
    const own = found.get(deviceId);
    if (own) own.push(content);
    else found.set(deviceId, [content]);
  }
  return found;
}
