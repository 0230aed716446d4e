'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { PDFDocumentProxy } from 'pdfjs-dist';
import { useEffect, useState } from 'react';
import { FileButton } from '../../components/FileButton';
import { openPdf, pagePicture } from './pdfPage';

/** The picture of a floor: a PNG or JPEG, or a page of a PDF, seen before it is sent. @param onPicture null while there is none */
export function PictureChoice({
  onPicture,
  disabled,
}: {
  onPicture: (make: (() => Promise<Blob>) | null) => void;
  disabled: boolean;
}) {
  const [file, setFile] = useState<File | null>(null);
  const [document, setDocument] = useState<PDFDocumentProxy | null>(null);
  const [page, setPage] = useState(1);
  const [shown, setShown] = useState('');
  const [problem, setProblem] = useState('');
  useEffect(
    () => () => {
      if (shown) URL.revokeObjectURL(shown);
    },
    [shown],
  );
  const show = async (pdf: PDFDocumentProxy, wanted: number) => {
    setPage(wanted);
    setShown(URL.createObjectURL(await pagePicture(pdf, wanted, true)));
    onPicture(() => pagePicture(pdf, wanted));
  };
  const choose = async (chosen: File) => {
    setFile(chosen);
    setProblem('');
    setShown('');
    setDocument(null);
    onPicture(null);
    try {
      if (chosen.type === 'application/pdf' || /\.pdf$/i.test(chosen.name)) {
        const pdf = await openPdf(chosen);
        setDocument(pdf);
        await show(pdf, 1);
      } else {
        // what is no picture is told by the browser before anything is sent
        const picture = await createImageBitmap(chosen);
        picture.close();
        setShown(URL.createObjectURL(chosen));
        onPicture(() => Promise.resolve(chosen));
      }
    } catch {
      setProblem(`“${chosen.name}” cannot be read: it is no PNG, JPEG or PDF, or it is damaged.`);
    }
  };
  return (
    <>
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <FileButton
          words={file ? 'Choose another file' : 'Choose a picture or PDF'}
          name="planPicture"
          accept=".png,.jpg,.jpeg,.pdf,image/png,image/jpeg,application/pdf"
          disabled={disabled}
          onFile={(chosen) => void choose(chosen)}
        />
        {file && <span className="quiet">{file.name}</span>}
        {document && document.numPages > 1 && (
          <TextField
            select
            size="small"
            label="Page"
            name="planPage"
            value={page}
            sx={{ width: 90 }}
            onChange={(event) => void show(document, Number(event.target.value))}
          >
            {Array.from({ length: document.numPages }, (_, at) => (
              <MenuItem key={at} value={at + 1}>
                {at + 1}
              </MenuItem>
            ))}
          </TextField>
        )}
      </div>
      {problem && (
        <p role="alert" className="bad">
          {problem}
        </p>
      )}
      {/* a picture the person just chose: it is on this machine only */}
      {shown && <img src={shown} alt="the floor as it will be shown" className="planpreview" />}
    </>
  );
}
