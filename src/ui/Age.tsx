/** How long ago something was, which stays true while the page is open. */
import { ageText } from './format';
import { useNow } from './use-now';

export const Age = ({ at }: { at: number }) => <>{ageText(at, useNow())}</>;
