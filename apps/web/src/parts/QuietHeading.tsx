/** The head of a table's column whose content speaks for itself: read out, not shown. */
export const QuietHeading = ({ name, className }: { name: string; className?: string }) => (
  <th className={className}>
    <span className="visually-hidden">{name}</span>
  </th>
);
