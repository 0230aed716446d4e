'use client';

import type { PDFDocumentProxy } from 'pdfjs-dist';

/** The longest side a page is drawn with, in points of the picture. */
const longestSide = 2600;
const previewSide = 900;

/** Opens a PDF in the browser; nothing of it but the chosen page leaves the machine. @throws Error where it is none */
export async function openPdf(file: Blob): Promise<PDFDocumentProxy> {
  const pdf = await import('pdfjs-dist');
  pdf.GlobalWorkerOptions.workerSrc = new URL('pdfjs-dist/build/pdf.worker.min.mjs', import.meta.url).toString();
  return pdf.getDocument({ data: new Uint8Array(await file.arrayBuffer()), isEvalSupported: false }).promise;
}

/** A page as a PNG. @param page from 1 */
export async function pagePicture(document: PDFDocumentProxy, page: number, preview = false): Promise<Blob> {
  const found = await document.getPage(page);
  const plain = found.getViewport({ scale: 1 });
  const viewport = found.getViewport({
    scale: (preview ? previewSide : longestSide) / Math.max(plain.width, plain.height),
  });
  const canvas = window.document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.ceil(viewport.width), Math.ceil(viewport.height)];
  const context = canvas.getContext('2d');
  if (!context) throw new Error('this browser draws nothing');
  await found.render({ canvasContext: context, viewport, background: '#fff' }).promise;
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('the page cannot be drawn'))), 'image/png'),
  );
}
