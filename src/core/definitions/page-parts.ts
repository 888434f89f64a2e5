/** The parts of a page's address that a condition can look at. */
import { segmentsOf } from '../plan/page-path';

/** The path with its segments alone, the same for an address with and without a host; `/` for the first page. */
export const pagePath = (page: string): string => `/${segmentsOf(page).join('/')}`;

/** What stands behind the first question mark, up to the fragment; empty for none. */
export const pageQuery = (page: string): string => /^[^?#]*\?([^#]*)/.exec(page)?.[1] ?? '';
