/** When a figure is marked wherever it stands. */
import type { Signal } from './gate';

/** Whether what a figure says must not be relied on: a gate of its question is at stop, and nobody answers for it. */
export const isUntrusted = ({ signal }: { readonly signal: Signal }): boolean => signal === 'stop';
