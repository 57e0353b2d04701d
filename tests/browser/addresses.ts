/** Where the servers with the demo world listen: one for most tests, one for those that sign tuners in and out. */
export const ADDRESS = 'http://127.0.0.1:4391';
export const ACCESS_ADDRESS = 'http://127.0.0.1:4394';
