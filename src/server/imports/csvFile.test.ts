import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import Papa from 'papaparse';
import { CsvError, readCsv } from './csvFile';

describe('a table from a spreadsheet', () => {
  test('commas, semicolons or tabs; quoted cells over several lines keep the count of lines', () => {
    expect(readCsv('\ufeffname;owner\r\n\r\na;"x\r\ny, z"\r\nb;w\n')).toEqual({
      head: ['name', 'owner'],
      lines: [
        { line: 3, cells: ['a', 'x\ny, z'] },
        { line: 5, cells: ['b', 'w'] },
      ],
    });
    expect(readCsv('name\towner, main\na\tx').lines).toEqual([{ line: 2, cells: ['a', 'x'] }]);
    expect(readCsv('name,owner\na,"x, y"\n').lines).toEqual([{ line: 2, cells: ['a', 'x, y'] }]);
  });
  test('a file that is none says so at its line', () => {
    expect(() => readCsv(' \n\n')).toThrow(CsvError);
    try {
      readCsv('name,owner\na,b\nc,"x\n');
    } catch (error) {
      expect(error).toMatchObject({ line: 3 });
    }
    expect.assertions(2);
  });
  test('what is written as CSV is read as it was', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', ',', ';', '"', '\n', ' ', 'é', '\t'), maxLength: 6 });
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { maxLength: 8 }), (cells) => {
        const text = Papa.unparse([['name', 'owner'], ...cells], { newline: '\r\n' });
        expect(readCsv(text).lines.map((row) => row.cells)).toEqual(
          cells.filter((row) => row.some((one) => one.trim() !== '')),
        );
      }),
    );
  });
  test('anything at all is read or refused', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        try {
          readCsv(text);
        } catch (error) {
          if (!(error instanceof CsvError)) throw error;
        }
      }),
    );
  });
});
