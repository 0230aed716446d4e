/** hrSystemDate of HOST-RESOURCES-MIB (RFC 2790): the device's own clock. */
export const hrSystemDate = '1.3.6.1.2.1.25.1.2';

const quarterHourSeconds = 900;

/**
 * How far a device's clock is ahead of ours, in seconds; negative where it is behind. A DateAndTime (RFC 2579) of eight octets does not say in which
 * zone it is: zones lie a quarter of an hour apart, so only what is left within that is sure. Null for anything that is no date.
 * @param nowMs our clock when the answer came, milliseconds since the epoch
 */
export function clockAhead(octets: Uint8Array | undefined, nowMs: number): number | null {
  if (!octets || (octets.length !== 8 && octets.length !== 11)) return null;
  const [
    high = 0,
    low = 0,
    month = 0,
    day = 0,
    hour = 0,
    minute = 0,
    second = 0,
    tenth = 0,
    sign,
    zoneHours = 0,
    zoneMinutes = 0,
  ] = octets;
  const year = high * 256 + low;
  if (
    year < 1970 ||
    month < 1 ||
    month > 12 ||
    day < 1 ||
    day > 31 ||
    hour > 23 ||
    minute > 59 ||
    second > 60 ||
    tenth > 9
  )
    return null;
  const told = Date.UTC(year, month - 1, day, hour, minute, second, tenth * 100);
  if (sign === undefined) {
    const ahead = (told - nowMs) / 1000;
    return Math.round(ahead - Math.round(ahead / quarterHourSeconds) * quarterHourSeconds);
  }
  if ((sign !== 0x2b && sign !== 0x2d) || zoneHours > 14 || zoneMinutes > 59) return null;
  const east = (sign === 0x2b ? 1 : -1) * (zoneHours * 60 + zoneMinutes) * 60;
  return Math.round((told - nowMs) / 1000 - east);
}
