/** What may stand between the values of a delimited file, as people call it. */
export const DELIMITERS = [
  { value: ';', label: 'semicolon ;' },
  { value: ',', label: 'comma ,' },
  { value: '\t', label: 'tab' },
  { value: '|', label: 'bar |' },
];
