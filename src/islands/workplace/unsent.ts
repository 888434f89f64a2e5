/** Changes that the server has not taken yet, kept beside the page: whoever leaves it or loads it anew loses none. */
import type { Edit } from '../../core/plan/edit';

export interface Change {
  readonly edits: readonly Edit[];
  readonly label: string;
}

export type Keeping = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

/** What they change: a proposal, or the draft. */
type Target = string | undefined;

const keyOf = (target: Target): string => `signal-post:unsent:${target ?? 'draft'}`;

/** The tab's own storage; `undefined` where the browser keeps none for this page. */
const ofTheTab = (): Keeping | undefined => {
  try {
    return globalThis.sessionStorage;
  } catch {
    return undefined;
  }
};

export class Unsent {
  constructor(private readonly keeping: Keeping | undefined = ofTheTab()) {}

  read(target: Target): readonly Change[] {
    try {
      return JSON.parse(this.keeping?.getItem(keyOf(target)) ?? '[]') as Change[];
    } catch {
      return [];
    }
  }

  /** Where there is no room, they stay in the page's memory alone. */
  write(target: Target, changes: readonly Change[]): void {
    try {
      if (changes.length === 0) this.keeping?.removeItem(keyOf(target));
      else this.keeping?.setItem(keyOf(target), JSON.stringify(changes));
    } catch {
      this.keeping?.removeItem(keyOf(target));
    }
  }
}
