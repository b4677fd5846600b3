import { strToU8, zipSync } from 'fflate';

const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const LINKS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const xml = (body: string): Uint8Array => strToU8(`<?xml version="1.0" encoding="UTF-8"?>${body}`);

/** A workbook (ECMA-376) by hand: for each sheet the rows as XML; `after` stands behind the rows of every sheet. */
export function workbook(sheets: Readonly<Record<string, string>>, after = ''): Uint8Array {
  const names = Object.keys(sheets);
  const type = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
  const parts = names.map(
    (_, i) => `<Override PartName="/xl/worksheets/sheet${i + 1}.xml" ContentType="${type}.worksheet+xml"/>`,
  );
  const links = names.map(
    (_, i) => `<Relationship Id="rId${i + 1}" Type="${LINKS}/worksheet" Target="worksheets/sheet${i + 1}.xml"/>`,
  );
  const entries = names.map((name, i) => `<sheet name="${name}" sheetId="${i + 1}" r:id="rId${i + 1}"/>`);
  return zipSync({
    '[Content_Types].xml': xml(
      `<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${type}.sheet.main+xml"/>${parts.join('')}</Types>`,
    ),
    '_rels/.rels': xml(
      `<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${LINKS}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    ),
    'xl/workbook.xml': xml(
      `<workbook xmlns="${MAIN}" xmlns:r="${LINKS}"><sheets>${entries.join('')}</sheets></workbook>`,
    ),
    'xl/_rels/workbook.xml.rels': xml(
      `<Relationships xmlns="${PACKAGE}/relationships">${links.join('')}</Relationships>`,
    ),
    ...Object.fromEntries(
      names.map((name, i) => [
        `xl/worksheets/sheet${i + 1}.xml`,
        xml(`<worksheet xmlns="${MAIN}"><sheetData>${sheets[name]!}</sheetData>${after}</worksheet>`),
      ]),
    ),
  });
}
