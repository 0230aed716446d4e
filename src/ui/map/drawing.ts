import { plateHeight, plateWidth, type MapLayout } from '@/core/layout/terraces';

/** What the map shows, ready to be drawn on a canvas or written as SVG. */
export interface DrawnPlate {
  id: string;
  x: number;
  y: number;
  name: string;
  tab: string;
  state: 'up' | 'silent' | 'fault' | 'gone' | 'added';
}

export interface DrawnLink {
  id: string;
  from: DrawnPlate;
  to: DrawnPlate;
  width: number;
  dash: number[];
  fault: boolean;
  change: string | undefined;
  /** parallel links are set apart */
  offset: number;
}

export interface Picture {
  layout: MapLayout;
  plates: DrawnPlate[];
  links: DrawnLink[];
}

export const tabs: Record<string, string> = {
  switch: 'SW', router: 'RT', firewall: 'FW', server: 'SV', hypervisor: 'HV', 'virtual-machine': 'VM', 'wireless-controller': 'WC',
  'access-point': 'AP', 'fabric-controller': 'FC', printer: 'PR', phone: 'PH', camera: 'CA', power: 'PW', host: 'HO', unknown: '?',
};

export interface Point {
  x: number;
  y: number;
}

/** The two ends and control points of a link: straight beside each other, else a smooth curve from edge to edge. */
export function curveOf({ from, to, offset }: DrawnLink): [Point, Point, Point, Point] {
  const centre = (plate: DrawnPlate) => ({ x: plate.x + plateWidth / 2, y: plate.y + plateHeight / 2 });
  const [a, b] = [centre(from), centre(to)];
  if (Math.abs(a.y - b.y) < plateHeight) {
    const right = a.x < b.x;
    const start = { x: a.x + (right ? plateWidth / 2 : -plateWidth / 2), y: a.y + offset };
    const end = { x: b.x + (right ? -plateWidth / 2 : plateWidth / 2), y: b.y + offset };
    const far = Math.abs(end.x - start.x) > plateWidth * 1.5;
    const bend = far ? 34 : 0;
    return [start, { x: start.x + (right ? 30 : -30), y: start.y - bend }, { x: end.x + (right ? -30 : 30), y: end.y - bend }, end];
  }
  const down = a.y < b.y;
  const start = { x: a.x + offset, y: a.y + (down ? plateHeight / 2 : -plateHeight / 2) };
  const end = { x: b.x + offset, y: b.y + (down ? -plateHeight / 2 : plateHeight / 2) };
  const middle = (start.y + end.y) / 2;
  return [start, { x: start.x, y: middle }, { x: end.x, y: middle }, end];
}

export function pointOnCurve([p0, p1, p2, p3]: [Point, Point, Point, Point], t: number): Point {
  const u = 1 - t;
  const mix = (k: 'x' | 'y') => u ** 3 * p0[k] + 3 * u * u * t * p1[k] + 3 * u * t * t * p2[k] + t ** 3 * p3[k];
  return { x: mix('x'), y: mix('y') };
}

export interface Palette {
  ground: string; panel: string; sunken: string; line: string; ink: string; ink2: string; ink3: string; ember: string; lagoon: string; bad: string; caution: string;
}

export function paletteOf(element: Element): Palette {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    ground: read('ground'), panel: read('panel'), sunken: read('sunken'), line: read('line'), ink: read('ink'), ink2: read('ink-2'), ink3: read('ink-3'),
    ember: read('ember'), lagoon: read('lagoon'), bad: read('bad'), caution: read('caution'),
  };
}

const font = "'Archivo Variable', sans-serif";

/** Draws the picture; the caller has set the transform. */
export function drawCanvas(context: CanvasRenderingContext2D, { layout, plates, links }: Picture, colours: Palette, chosen: string | null): void {
  for (const bay of layout.bays) {
    context.fillStyle = colours.ink2;
    context.font = `600 12px ${font}`;
    context.fillText(bay.site || 'no site', bay.x + 4, bay.y + 12);
    for (const terrace of bay.terraces) {
      context.fillStyle = colours.sunken;
      context.globalAlpha = 0.6;
      context.beginPath();
      context.roundRect(bay.x, terrace.y, bay.width, terrace.height, 3);
      context.fill();
      context.globalAlpha = 1;
      context.fillStyle = colours.ink3;
      context.font = `10.5px ${font}`;
      context.fillText(terrace.label, bay.x + 8, terrace.y + 13);
    }
  }
  for (const link of links) {
    const curve = curveOf(link);
    const selected = chosen === `link:${link.id}`;
    context.strokeStyle = selected ? colours.ember : link.fault ? colours.bad : link.change === 'gone' ? colours.caution : link.change === 'added' ? colours.lagoon : colours.ink3;
    context.lineWidth = selected ? link.width + 1.5 : link.width;
    context.setLineDash(link.dash);
    context.globalAlpha = selected ? 1 : 0.8;
    context.beginPath();
    context.moveTo(curve[0].x, curve[0].y);
    context.bezierCurveTo(curve[1].x, curve[1].y, curve[2].x, curve[2].y, curve[3].x, curve[3].y);
    context.stroke();
    context.setLineDash([]);
    context.globalAlpha = 1;
    if (link.fault) {
      const { x, y } = pointOnCurve(curve, 0.5);
      context.fillStyle = colours.bad;
      wedge(context, x - 6, y - 6, 12);
    }
  }
  for (const plate of plates) {
    const selected = chosen === `device:${plate.id}`;
    context.fillStyle = colours.panel;
    context.strokeStyle = selected ? colours.ember : colours.ink3;
    context.lineWidth = selected ? 2.4 : 1;
    context.setLineDash(plate.state === 'gone' ? [4, 3] : []);
    context.beginPath();
    context.roundRect(plate.x, plate.y, plateWidth, plateHeight, plateHeight / 2);
    context.fill();
    context.save();
    context.clip();
    context.fillStyle = colours.lagoon;
    context.fillRect(plate.x, plate.y, 30, plateHeight);
    context.restore();
    context.stroke();
    context.setLineDash([]);
    context.fillStyle = colours.panel;
    context.font = `650 11px ${font}`;
    context.textAlign = 'center';
    context.fillText(plate.tab, plate.x + 17, plate.y + 17);
    context.textAlign = 'left';
    context.fillStyle = colours.ink;
    context.font = `12.5px ${font}`;
    context.fillText(plate.state === 'added' ? `+ ${plate.name}` : plate.name, plate.x + 37, plate.y + 17, plateWidth - 56);
    if (plate.state === 'fault') {
      context.fillStyle = colours.bad;
      wedge(context, plate.x + plateWidth - 17, plate.y + 8, 10);
    }
    if (plate.state === 'silent') {
      context.strokeStyle = colours.caution;
      context.lineWidth = 1.8;
      context.setLineDash([1.7, 1.9]);
      context.beginPath();
      context.arc(plate.x + plateWidth - 13, plate.y + plateHeight / 2, 4, 0, 7);
      context.stroke();
      context.setLineDash([]);
    }
  }
}

function wedge(context: CanvasRenderingContext2D, x: number, y: number, size: number): void {
  context.beginPath();
  context.moveTo(x, y);
  context.lineTo(x + size, y + size / 2);
  context.lineTo(x, y + size);
  context.closePath();
  context.fill();
}

const escape = (text: string) => text.replace(/[<>&"]/g, (character) => `&#${character.charCodeAt(0)};`);

/** The picture as SVG with real text, a title and the survey it shows. */
export function writeSvg({ layout, plates, links }: Picture, colours: Palette, title: string): string {
  const parts: string[] = [];
  for (const bay of layout.bays) {
    parts.push(`<text x="${bay.x + 4}" y="${bay.y + 12}" font-size="12" font-weight="600" fill="${colours.ink2}">${escape(bay.site || 'no site')}</text>`);
    for (const terrace of bay.terraces) parts.push(`<rect x="${bay.x}" y="${terrace.y}" width="${bay.width}" height="${terrace.height}" rx="3" fill="${colours.sunken}" opacity="0.6"/><text x="${bay.x + 8}" y="${terrace.y + 13}" font-size="10.5" fill="${colours.ink3}">${terrace.label}</text>`);
  }
  for (const link of links) {
    const curve = curveOf(link);
    const [p0, p1, p2, p3] = curve;
    parts.push(`<path d="M${p0.x} ${p0.y} C${p1.x} ${p1.y} ${p2.x} ${p2.y} ${p3.x} ${p3.y}" fill="none" stroke="${link.fault ? colours.bad : colours.ink3}" stroke-width="${link.width}"${link.dash.length > 0 ? ` stroke-dasharray="${link.dash.join(' ')}"` : ''} opacity="0.8"><title>${escape(`${link.from.name} — ${link.to.name}`)}</title></path>`);
    if (link.fault) {
      const { x, y } = pointOnCurve(curve, 0.5);
      parts.push(`<path d="M${x - 6} ${y - 6} l12 6 l-12 6Z" fill="${colours.bad}"/>`);
    }
  }
  for (const plate of plates) {
    const r = plateHeight / 2;
    parts.push(`<g transform="translate(${plate.x},${plate.y})"><rect width="${plateWidth}" height="${plateHeight}" rx="${r}" fill="${colours.panel}" stroke="${colours.ink3}"/><path d="M${r} 0 H30 V${plateHeight} H${r} A${r} ${r} 0 0 1 ${r} 0Z" fill="${colours.lagoon}"/><text x="18" y="17" font-size="10" font-weight="650" text-anchor="middle" fill="${colours.panel}">${plate.tab}</text><text x="37" y="17" font-size="12.5" fill="${colours.ink}">${escape(plate.name)}</text></g>`);
  }
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 -24 ${layout.width} ${layout.height + 24}" width="${layout.width}" height="${layout.height + 24}" font-family="Archivo, sans-serif"><title>${escape(title)}</title><rect y="-24" width="100%" height="${layout.height + 24}" fill="${colours.ground}"/><text x="16" y="-8" font-size="13" font-weight="600" fill="${colours.ink}">${escape(title)}</text>${parts.join('')}</svg>`;
}
