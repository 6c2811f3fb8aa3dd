const STATUS = /^HTTP (.*)$/;

/** The code by which a flow knows a declared fault: of plain HTTP it is its status, or those that begin so. */
export function codeOfFault(name: string): string {
  const status = STATUS.exec(name)?.[1];
  if (!status) return `fault ${name}`;
  return `HTTP ${status === 'default' ? '*' : status.replace(/XX$/i, '*')}`;
}

/** A declared fault as people call it. */
export const titleOfFault = (name: string) => (STATUS.test(name) ? name : `fault ${name}`);
