/** Properties of a message as they are typed: a line each, name = value. */
export const propertiesOf = (text: string) =>
  Object.fromEntries(
    text
      .split('\n')
      .map((line) => line.split('='))
      .filter(([name]) => name.trim())
      .map(([name, ...value]) => [name.trim(), value.join('=').trim()]),
  );
