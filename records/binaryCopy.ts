/** How data in the binary form of COPY begin. Source: PostgreSQL 15 documentation, COPY, "Binary Format". */
export const copySignature = Buffer.from('PGCOPY\n\xff\r\n\0\0\0\0\0\0\0\0\0', 'latin1');
/** And how they end. */
export const copyEnd = Buffer.from([0xff, 0xff]);
