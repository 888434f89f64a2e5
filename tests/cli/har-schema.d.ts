declare module 'har-schema' {
  const schemas: Readonly<Record<string, object>>;
  export default schemas;
}
