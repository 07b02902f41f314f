/**
 * What some work comes to, or the failure of `late` where it takes longer than so many milliseconds. The
 * work itself goes on: whoever gives it up ends it.
 */
export async function within<T>(ms: number, work: Promise<T>, late: () => Error): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const limit = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(() => reject(late()), ms);
  });
  try {
    return await Promise.race([work, limit]);
  } finally {
    clearTimeout(timer);
  }
}
