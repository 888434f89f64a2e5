/** Who is using the device: an anonymous ID, and a user ID while somebody is signed in. All tabs share it. */
import type { Store } from './store';

export class Identity {
  /** Where nothing can be kept, it holds for this page. */
  private own: { readonly [what: string]: string | undefined } = {};

  constructor(
    private readonly store: Store,
    private readonly prefix: string,
    private readonly newId: () => string,
  ) {}

  private read(what: string): string | undefined {
    return this.store.read(this.prefix + what) ?? this.own[what];
  }

  private write(what: string, value: string | undefined): void {
    this.own = { ...this.own, [what]: value };
    if (value === undefined) this.store.remove(this.prefix + what);
    else this.store.write(this.prefix + what, value);
  }

  get anonymous(): string {
    const known = this.read('anonymous');
    if (known !== undefined) return known;
    const made = this.newId();
    this.write('anonymous', made);
    return made;
  }

  get user(): string | undefined {
    return this.read('user');
  }

  setUser(user: string | undefined): void {
    this.write('user', user);
  }

  /** Whoever comes next has another anonymous ID. */
  rotate(): void {
    this.write('anonymous', undefined);
  }

  forget(): void {
    this.setUser(undefined);
    this.rotate();
  }
}
