import type { Lettering, Pen, Stroke } from './pen';
import type { Point } from './picture';
import { drawSheet, sheetBox, type Sheet } from './sheet';

type PdfDocument = PDFKit.PDFDocument;

/** Draws on a page of a PDF; its transform is set by whoever calls. Names are real text in the font of the program. */
class PdfPen implements Pen {
  readonly titled = false;

  constructor(readonly page: PdfDocument) {}

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
    const shape = () =>
      radius > 0 ? this.page.roundedRect(x, y, width, height, radius) : this.page.rect(x, y, width, height);
    if (fill) shape().fillColor(fill, alpha).fill();
    if (stroke) this.#stroke(shape, stroke, alpha);
  }

  curve([p0, p1, p2, p3]: [Point, Point, Point, Point], stroke: Stroke): void {
    this.#stroke(
      () => this.page.moveTo(p0.x, p0.y).bezierCurveTo(p1.x, p1.y, p2.x, p2.y, p3.x, p3.y),
      stroke,
      stroke.alpha ?? 1,
    );
  }

  wedge(x: number, y: number, size: number, colour: string, alpha = 1): void {
    this.page
      .polygon([x, y], [x + size, y + size / 2], [x, y + size])
      .fillColor(colour, alpha)
      .fill();
  }

  ring(x: number, y: number, radius: number, stroke: Stroke): void {
    this.#stroke(() => this.page.circle(x, y, radius), stroke, stroke.alpha ?? 1);
  }

  tab(x: number, y: number, width: number, height: number, radius: number, fill: string, alpha = 1): void {
    const r = Math.min(radius, height / 2);
    const bend = r * 0.5523;
    this.page
      .moveTo(x + r, y)
      .lineTo(x + width, y)
      .lineTo(x + width, y + height)
      .lineTo(x + r, y + height)
      .bezierCurveTo(x + r - bend, y + height, x, y + height - r + bend, x, y + height - r)
      .lineTo(x, y + r)
      .bezierCurveTo(x, y + r - bend, x + r - bend, y, x + r, y)
      .fillColor(fill, alpha)
      .fill();
  }

  cells(corners: readonly Point[], size: number, fill: string | null, stroke: Stroke | null, alpha = 1): void {
    const shape = () => {
      for (const { x, y } of corners) this.page.rect(x, y, size, size);
      return this.page;
    };
    if (fill) shape().fillColor(fill, alpha).fill();
    if (stroke) this.#stroke(shape, stroke, alpha);
  }

  outline(corners: readonly Point[], stroke: Stroke, fill: string): void {
    const shape = () => this.page.polygon(...corners.map(({ x, y }) => [x, y]));
    shape().fillColor(fill, 0.1).fill();
    this.#stroke(shape, stroke, stroke.alpha ?? 1);
  }

  text(
    words: string,
    x: number,
    y: number,
    { size, weight = 400, colour, align = 'left', alpha = 1, widest }: Lettering,
  ): void {
    const { page } = this;
    page
      .font(weight >= 550 ? 'bold' : 'plain')
      .fontSize(size)
      .fillColor(colour, alpha);
    const width = page.widthOfString(words);
    const shift = align === 'center' ? width / 2 : align === 'right' ? width : 0;
    // what is too long for its plate is set narrower, as on the screen
    const narrow = widest !== undefined && width > widest ? (widest / width) * 100 : 100;
    page.text(words, x - shift * (narrow / 100), y, {
      lineBreak: false,
      baseline: 'alphabetic',
      horizontalScaling: narrow,
    } as PDFKit.Mixins.TextOptions);
  }

  #stroke(shape: () => PdfDocument, { colour, width, dash = [] }: Stroke, alpha: number): void {
    this.page.save();
    shape().strokeColor(colour, alpha).lineWidth(width);
    if (dash.length > 0) this.page.dash(dash[0] ?? 1, { space: dash[1] ?? dash[0] ?? 1 });
    this.page.stroke().restore();
  }
}

export type Paper = 'A4' | 'A3' | 'A2';
const margin = 24;

/** The sheet on one page of paper. */
export const writePdf = (sheet: Sheet, paper: Paper): Promise<Blob> =>
  pagePdf({ title: `${sheet.title}, ${sheet.about}`, box: sheetBox(sheet), paper }, (pen) => drawSheet(pen, sheet));

/** A drawing on one page of paper, as large as it fits, lying or standing as suits it. */
export async function pagePdf(
  {
    title,
    box: { left, top, width, height },
    paper,
  }: { title: string; box: { left: number; top: number; width: number; height: number }; paper: Paper },
  draw: (pen: Pen) => void,
): Promise<Blob> {
  const [{ default: Document }, plain, bold] = await Promise.all([
    import('pdfkit'),
    ...[
      new URL('@fontsource/archivo/files/archivo-latin-400-normal.woff', import.meta.url),
      new URL('@fontsource/archivo/files/archivo-latin-600-normal.woff', import.meta.url),
    ].map(async (url) => (await fetch(url)).arrayBuffer()),
  ] as const);
  const page = new Document({
    size: paper,
    layout: width > height ? 'landscape' : 'portrait',
    margin: 0,
    font: '',
    info: { Title: title, Creator: 'Bolide' },
  });
  const parts: BlobPart[] = [];
  const written = new Promise<Blob>((resolve) =>
    page
      .on('data', (part: Uint8Array<ArrayBuffer>) => parts.push(part))
      .on('end', () => resolve(new Blob(parts, { type: 'application/pdf' }))),
  );
  page.registerFont('plain', plain).registerFont('bold', bold);
  const scale = Math.min((page.page.width - 2 * margin) / width, (page.page.height - 2 * margin) / height);
  page
    .translate((page.page.width - width * scale) / 2, (page.page.height - height * scale) / 2)
    .scale(scale)
    .translate(-left, -top);
  draw(new PdfPen(page));
  page.end();
  return written;
}
