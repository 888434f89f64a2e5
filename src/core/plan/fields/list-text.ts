/** Lists as one text: items parted by commas, an item that holds a comma or a quote in quotes. */

const quoted = (s: string): string => (/[",\n]|^\s|\s$|^$/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);

export const joinList = (items: readonly string[]): string => items.map(quoted).join(', ');

/** The items of a text; blanks around them and empty ones fall away, unless they are in quotes. */
export const splitList = (text: string): string[] => {
  const out: string[] = [];
  let item = '';
  let inQuotes = false;
  let wasQuoted = false;
  const push = () => {
    const value = wasQuoted ? item : item.trim();
    if (value !== '' || wasQuoted) out.push(value);
    item = '';
    wasQuoted = false;
  };
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (inQuotes) {
      if (c !== '"') item += c;
      else if (text[i + 1] === '"') {
        item += '"';
        i++;
      } else inQuotes = false;
    } else if (c === '"' && item.trim() === '' && !wasQuoted) {
      item = '';
      inQuotes = true;
      wasQuoted = true;
    } else if (c === ',' || c === '\n') push();
    else if (!wasQuoted || c.trim() !== '') item += c;
  }
  push();
  return out;
};
