/** Short notes at the edge of the page. The package that draws them comes with the first one. */

interface Options {
  readonly duration?: number;
}

const drawn = () => import('sonner').then((m) => m.toast);

const say = (text: string, options: Options = {}): void => void drawn().then((t) => t(text, options));
const error = (text: string, options: Options = {}): void => void drawn().then((t) => t.error(text, options));

export const toast = Object.assign(say, { error });
