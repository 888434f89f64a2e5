/** Lines of Markdown as a reader of tables takes them. */

/** Tables whose rows have another number of cells than their head, and fences that do not close. */
export const marked = (text: string): { readonly broken: string[] } => {
  const broken: string[] = [];
  let fence: string | undefined;
  let cells = 0;
  for (const line of text.split('\n')) {
    const opens = /^(`{3,})/.exec(line)?.[1];
    if (fence !== undefined) {
      if (opens !== undefined && opens.length >= fence.length && line === opens) fence = undefined;
      continue;
    }
    if (opens !== undefined) {
      fence = opens;
      continue;
    }
    if (!line.startsWith('|')) {
      cells = 0;
      continue;
    }
    const n = line.replaceAll(/\\[\\|]/g, '').split('|').length;
    if (cells > 0 && n !== cells) broken.push(line);
    cells = n;
  }
  if (fence !== undefined) broken.push('a fence stays open');
  return { broken };
};
