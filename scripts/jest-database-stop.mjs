export default async function stop() {
  await globalThis.stopTestDatabase?.();
}
