/** Which traffic the page looks at. */
import { trafficText } from '../../core/table/traffic';
import { useWorkplace } from './context';

/** Whether the traffic is the default: production, unmarked. */
export const useIsCounted = (): boolean => trafficText(useWorkplace().place.lens.traffic) === '';
