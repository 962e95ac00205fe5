/** Debian's Redis server, or the one that REDIS_SERVER names. */
export function redisServer(): string;
