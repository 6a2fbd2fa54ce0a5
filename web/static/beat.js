// A worker that beats twice a second, also while its window is hidden.
setInterval(() => postMessage(0), 500);
