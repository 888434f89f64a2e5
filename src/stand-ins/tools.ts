/** The shelf of the stand-in catalogue. */
export interface Tool {
  readonly tool_id: string;
  readonly tool_name: string;
  readonly tool_category: string;
  readonly branch: string;
  /** Minor units. */
  readonly deposit: number;
}

export const TOOLS: readonly Tool[] = [
  { tool_id: 'T-0412', tool_name: 'Cordless drill 18 V', tool_category: 'drills', branch: 'Quayside', deposit: 2500 },
  { tool_id: 'T-0077', tool_name: 'Three-part ladder', tool_category: 'ladders', branch: 'Millrace', deposit: 8000 },
  { tool_id: 'T-0103', tool_name: 'Sewing machine', tool_category: 'sewing machines', branch: 'Orchard Row', deposit: 6000 },
  { tool_id: 'T-0250', tool_name: 'Family tent', tool_category: 'tents', branch: 'Quayside', deposit: 4500 },
  { tool_id: 'T-0318', tool_name: 'Jigsaw', tool_category: 'saws', branch: 'Millrace', deposit: 3000 },
  { tool_id: 'T-0366', tool_name: 'Hedge trimmer', tool_category: 'garden', branch: 'Orchard Row', deposit: 3500 },
];
