/** What happened to the question whose figure is drawn, for whatever draws it over time. */
import { createContext } from 'react';
import type { FigureMark } from '../../../core/clearance/marks';

export const FigureMarks = createContext<readonly FigureMark[]>([]);
