// Loaded before a process's own code: ends it when whoever started it is gone, so that nothing is left running unseen.
const parent = process.ppid;
setInterval(() => {
  if (process.ppid !== parent) process.kill(process.pid, "SIGTERM");
}, 1000).unref();
