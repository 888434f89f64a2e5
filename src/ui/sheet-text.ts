/** What a sheet puts on the clipboard, read as cells. It is loaded when somebody pastes. */
import Papa from 'papaparse';

/** Tab-separated text as cells; quoted cells may hold tabs and line feeds. A last empty line is left out.
 *  Source: read by the package papaparse 5.
 */
export const fromSheetText = (text: string): string[][] => {
  if (text === '') return [['']];
  const rows = Papa.parse<string[]>(text, { delimiter: '\t' }).data;
  const last = rows.at(-1);
  return rows.length > 1 && last?.length === 1 && last[0] === '' ? rows.slice(0, -1) : rows;
};
