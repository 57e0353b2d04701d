/** Photos are made small where they are taken: a phone's picture of many megabytes says nothing more, and a mobile connection carries it badly. */
const LONGEST_PX = 2000;
const QUALITY = 0.85;
/** Smaller files go as they are. */
const SMALL_BYTES = 300_000;

/** The photo with at most 2000 pixels along its longer side; as it is where this browser can't read it: the server says what it thinks of it. */
export async function shrunk(photo: File): Promise<File> {
	if (photo.size <= SMALL_BYTES) return photo;
	try {
		const image = await createImageBitmap(photo);
		const share = Math.min(1, LONGEST_PX / Math.max(image.width, image.height));
		const canvas = document.createElement('canvas');
		canvas.width = Math.round(image.width * share);
		canvas.height = Math.round(image.height * share);
		canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
		image.close();
		const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', QUALITY));
		return blob && blob.size < photo.size ? new File([blob], 'photo.jpg', { type: 'image/jpeg' }) : photo;
	} catch {
		return photo;
	}
}
