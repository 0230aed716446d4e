/** Hands a file to whoever looks. */
export function saveFile(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** What is told of a sheet of paper: white, with black ink, whatever theme the screen has. */
export function onPaper<Told>(of: (element: Element) => Told): Told {
  const paper = document.createElement('div');
  paper.className = 'paper';
  paper.hidden = true;
  document.body.append(paper);
  const told = of(paper);
  paper.remove();
  return told;
}

/** A drawing as pixels, so many across. */
export function pngOf(svg: string, width: number): Promise<Blob> {
  return new Promise((resolve, reject) => {
    const image = new Image();
    image.onload = () => {
      const canvas = document.createElement('canvas');
      canvas.width = width;
      canvas.height = Math.round((image.height / image.width) * width);
      canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
      canvas.toBlob(
        (blob) =>
          blob ? resolve(blob) : reject(new Error('The picture is too large for this browser: take fewer pixels.')),
        'image/png',
      );
    };
    image.onerror = () => reject(new Error('The drawing could not be made a picture.'));
    image.src = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  });
}
