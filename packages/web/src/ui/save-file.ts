/** Gives the user a file to keep. */
export function saveFile(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

/** The text of the file that was chosen, after which another, or the same again, can be; null: none was. */
export async function chosenFile(input: HTMLInputElement): Promise<string | null> {
  const file = input.files?.[0];
  if (file === undefined) return null;
  const text = await file.text();
  input.value = '';
  return text;
}
