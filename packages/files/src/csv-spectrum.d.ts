declare module 'csv-spectrum' {
  function spectrum(
    callback: (error: Error | null, cases: { name: string; csv: Buffer; json: Buffer }[]) => void,
  ): void;
  export default spectrum;
}
