interface Destination {
  name: string;
  lat?: number;
  lon?: number;
}

/** The address that opens a phone's own route guidance to a place; some makes of phone have a word of their own for it. */
export function guidanceTo(to: Destination, agent = navigator.userAgent): string {
  const at = `${to.lat},${to.lon}`;
  return /iPhone|iPad/.test(agent) ? `maps:?daddr=${at}` : `geo:${at}?q=${at}(${encodeURIComponent(to.name)})`;
}
