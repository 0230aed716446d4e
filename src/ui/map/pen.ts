import type { Point } from './picture';

/** How a line is drawn. */
export interface Stroke {
  colour: string;
  width: number;
  dash?: number[];
  alpha?: number;
}
export interface Lettering {
  size: number;
  weight?: number;
  colour: string;
  align?: 'left' | 'center' | 'right';
  alpha?: number;
  widest?: number;
}

/** Whatever the map is drawn with: a canvas on the screen, text in a file. */
export interface Pen {
  /** whether lines have words of their own, for whoever points at them */
  readonly titled: boolean;
  box: (
    x: number,
    y: number,
    width: number,
    height: number,
    radius: number,
    fill: string | null,
    stroke: Stroke | null,
    alpha?: number,
  ) => void;
  curve: (points: [Point, Point, Point, Point], stroke: Stroke, title?: string) => void;
  wedge: (x: number, y: number, size: number, colour: string, alpha?: number) => void;
  ring: (x: number, y: number, radius: number, stroke: Stroke) => void;
  /** the rounded left end of a plate */
  tab: (x: number, y: number, width: number, height: number, radius: number, fill: string, alpha?: number) => void;
  /** many squares that look alike */
  cells: (corners: readonly Point[], size: number, fill: string | null, stroke: Stroke | null, alpha?: number) => void;
  /** a closed line around corners, rounded */
  outline: (corners: readonly Point[], stroke: Stroke, fill: string) => void;
  text: (words: string, x: number, y: number, lettering: Lettering) => void;
}

/** How wide names are; sizes from afar are many, names few. */
const widths = new Map<string, number>();
const mostWidths = 20_000;
/** forgets widths that were measured before a font was there */
export const forgetWidths = (): void => widths.clear();

/** a stroke of too many is dearer than several */
const mostAtOnce = 8;

/** what lies within an outline is told apart from what lies beside it, no more */
const fillAlpha = 0.1;

const family = "'Archivo Variable', sans-serif";

/** Draws on a canvas; its transform is set by whoever calls. Curves that are drawn alike one after the other are one stroke, which is drawn with whatever comes next, or at the end. */
export class CanvasPen implements Pen {
  readonly titled = false;
  #font = '';
  #align = '';
  #waiting: { path: Path2D; stroke: Stroke; count: number } | null = null;

  constructor(readonly context: CanvasRenderingContext2D) {}

  /** Draws what still waits. */
  flush(): void {
    const waiting = this.#waiting;
    if (!waiting) return;
    this.#waiting = null;
    this.#style(waiting.stroke, waiting.stroke.alpha ?? 1);
    this.context.stroke(waiting.path);
    this.context.setLineDash([]);
    this.context.globalAlpha = 1;
  }

  box(
    x: number,
    y: number,
    width: number,
    height: number,
    radius: number,
    fill: string | null,
    stroke: Stroke | null,
    alpha = 1,
  ): void {
    this.flush();
    const { context } = this;
    context.globalAlpha = alpha;
    context.beginPath();
    context.roundRect(x, y, width, height, radius);
    if (fill) {
      context.fillStyle = fill;
      context.fill();
    }
    if (stroke) this.#stroke(stroke, alpha);
    context.globalAlpha = 1;
  }

  curve([p0, p1, p2, p3]: [Point, Point, Point, Point], stroke: Stroke): void {
    if (this.#waiting && !isAlike(this.#waiting.stroke, stroke)) this.flush();
    this.#waiting ??= { path: new Path2D(), stroke, count: 0 };
    const { path } = this.#waiting;
    path.moveTo(p0.x, p0.y);
    path.bezierCurveTo(p1.x, p1.y, p2.x, p2.y, p3.x, p3.y);
    if (++this.#waiting.count === mostAtOnce) this.flush();
  }

  wedge(x: number, y: number, size: number, colour: string, alpha = 1): void {
    this.flush();
    const { context } = this;
    context.globalAlpha = alpha;
    context.fillStyle = colour;
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(x + size, y + size / 2);
    context.lineTo(x, y + size);
    context.closePath();
    context.fill();
    context.globalAlpha = 1;
  }

  ring(x: number, y: number, radius: number, stroke: Stroke): void {
    this.flush();
    const { context } = this;
    context.beginPath();
    context.arc(x, y, radius, 0, 7);
    this.#stroke(stroke, stroke.alpha ?? 1);
    context.globalAlpha = 1;
  }

  tab(x: number, y: number, width: number, height: number, radius: number, fill: string, alpha = 1): void {
    this.flush();
    const { context } = this;
    context.globalAlpha = alpha;
    context.fillStyle = fill;
    context.beginPath();
    context.roundRect(x, y, width, height, [radius, 0, 0, radius]);
    context.fill();
    context.globalAlpha = 1;
  }

  cells(corners: readonly Point[], size: number, fill: string | null, stroke: Stroke | null, alpha = 1): void {
    this.flush();
    const { context } = this;
    context.globalAlpha = alpha;
    context.beginPath();
    for (const { x, y } of corners) context.rect(x, y, size, size);
    if (fill) {
      context.fillStyle = fill;
      context.fill();
    }
    if (stroke) this.#stroke(stroke, alpha);
    context.globalAlpha = 1;
  }

  outline(corners: readonly Point[], stroke: Stroke, fill: string): void {
    this.flush();
    const { context } = this;
    context.beginPath();
    corners.forEach(({ x, y }, at) => (at === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
    context.closePath();
    context.globalAlpha = (stroke.alpha ?? 1) * fillAlpha;
    context.fillStyle = fill;
    context.fill();
    context.lineJoin = 'round';
    this.#stroke(stroke, stroke.alpha ?? 1);
    context.globalAlpha = 1;
  }

  text(
    words: string,
    x: number,
    y: number,
    { size, weight = 400, colour, align = 'left', alpha = 1, widest }: Lettering,
  ): void {
    this.flush();
    const { context } = this;
    context.globalAlpha = alpha;
    context.fillStyle = colour;
    const font = `${weight} ${size}px ${family}`;
    if (this.#font !== font) {
      context.font = font;
      this.#font = font;
    }
    if (this.#align !== align) {
      context.textAlign = align;
      this.#align = align;
    }
    // to be told how wide it may be makes the browser measure each time
    if (widest !== undefined && this.#widthOf(words, font) > widest) context.fillText(words, x, y, widest);
    else context.fillText(words, x, y);
    context.globalAlpha = 1;
  }

  #widthOf(words: string, font: string): number {
    const key = `${font} ${words}`;
    let width = widths.get(key);
    if (width === undefined) {
      if (widths.size > mostWidths) widths.clear();
      widths.set(key, (width = this.context.measureText(words).width));
    }
    return width;
  }

  #style({ colour, width, dash = [] }: Stroke, alpha: number): void {
    const { context } = this;
    context.globalAlpha = alpha;
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.setLineDash(dash);
  }

  #stroke(stroke: Stroke, alpha: number): void {
    this.#style(stroke, alpha);
    this.context.stroke();
    this.context.setLineDash([]);
  }
}

const isAlike = (one: Stroke, other: Stroke): boolean =>
  one.colour === other.colour &&
  one.width === other.width &&
  one.alpha === other.alpha &&
  (one.dash?.length ?? 0) === (other.dash?.length ?? 0) &&
  one.dash?.[0] === other.dash?.[0];

const escape = (text: string) => text.replace(/[<>&"]/g, (character) => `&#${character.charCodeAt(0)};`);
const rounded = (value: number) => Math.round(value * 100) / 100;

/** Writes the elements of an SVG file, names as real text. */
export class SvgPen implements Pen {
  readonly titled = true;
  readonly parts: string[] = [];

  box(
    x: number,
    y: number,
    width: number,
    height: number,
    radius: number,
    fill: string | null,
    stroke: Stroke | null,
    alpha = 1,
  ): void {
    this.parts.push(
      `<rect x="${rounded(x)}" y="${rounded(y)}" width="${rounded(width)}" height="${rounded(height)}" rx="${rounded(radius)}" fill="${fill ?? 'none'}"${stroke ? strokeOf(stroke) : ''}${opacity(alpha)}/>`,
    );
  }

  curve([p0, p1, p2, p3]: [Point, Point, Point, Point], stroke: Stroke, title = ''): void {
    const path = [p0, p1, p2, p3].map(({ x, y }) => `${rounded(x)} ${rounded(y)}`);
    this.parts.push(
      `<path d="M${path[0]} C${path.slice(1).join(' ')}" fill="none"${strokeOf(stroke)}${opacity(stroke.alpha ?? 1)}>${title && `<title>${escape(title)}</title>`}</path>`,
    );
  }

  wedge(x: number, y: number, size: number, colour: string, alpha = 1): void {
    this.parts.push(
      `<path d="M${rounded(x)} ${rounded(y)} l${rounded(size)} ${rounded(size / 2)} l${rounded(-size)} ${rounded(size / 2)}Z" fill="${colour}"${opacity(alpha)}/>`,
    );
  }

  ring(x: number, y: number, radius: number, stroke: Stroke): void {
    this.parts.push(
      `<circle cx="${rounded(x)}" cy="${rounded(y)}" r="${rounded(radius)}" fill="none"${strokeOf(stroke)}${opacity(stroke.alpha ?? 1)}/>`,
    );
  }

  tab(x: number, y: number, width: number, height: number, radius: number, fill: string, alpha = 1): void {
    const r = rounded(radius);
    this.parts.push(
      `<path d="M${rounded(x + radius)} ${rounded(y)} H${rounded(x + width)} V${rounded(y + height)} H${rounded(x + radius)} A${r} ${r} 0 0 1 ${rounded(x + radius)} ${rounded(y)}Z" fill="${fill}"${opacity(alpha)}/>`,
    );
  }

  cells(corners: readonly Point[], size: number, fill: string | null, stroke: Stroke | null, alpha = 1): void {
    const side = rounded(size);
    const path = corners.map(({ x, y }) => `M${rounded(x)} ${rounded(y)}h${side}v${side}h${-side}Z`).join('');
    this.parts.push(`<path d="${path}" fill="${fill ?? 'none'}"${stroke ? strokeOf(stroke) : ''}${opacity(alpha)}/>`);
  }

  outline(corners: readonly Point[], stroke: Stroke, fill: string): void {
    const path = corners.map(({ x, y }) => `${rounded(x)} ${rounded(y)}`).join(' L');
    this.parts.push(
      `<path d="M${path}Z" fill="${fill}" fill-opacity="${fillAlpha}" stroke-linejoin="round"${strokeOf(stroke)}${opacity(stroke.alpha ?? 1)}/>`,
    );
  }

  text(
    words: string,
    x: number,
    y: number,
    { size, weight = 400, colour, align = 'left', alpha = 1 }: Lettering,
  ): void {
    const anchor = align === 'center' ? 'middle' : align === 'right' ? 'end' : '';
    this.parts.push(
      `<text x="${rounded(x)}" y="${rounded(y)}" font-size="${rounded(size)}"${weight === 400 ? '' : ` font-weight="${weight}"`}${anchor && ` text-anchor="${anchor}"`} fill="${colour}"${opacity(alpha)}>${escape(words)}</text>`,
    );
  }
}

const strokeOf = ({ colour, width, dash = [] }: Stroke) =>
  ` stroke="${colour}" stroke-width="${rounded(width)}"${dash.length > 0 ? ` stroke-dasharray="${dash.join(' ')}"` : ''}`;
const opacity = (alpha: number) => (alpha < 1 ? ` opacity="${rounded(alpha)}"` : '');
export { escape as escapeXml };
