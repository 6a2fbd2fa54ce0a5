// Blocks of a drawing are dragged along it in whole units; done is called with the block and by how many it was moved.

export const along = (svg, blocks, width, unit, done) => {
  for (const block of blocks) {
    block.addEventListener("pointerdown", (event) => {
      const scale = svg.getBoundingClientRect().width / width;
      const step = unit * scale;
      const from = event.clientX;
      let units = 0;
      block.setPointerCapture(event.pointerId);
      const move = (e) => {
        units = Math.round((e.clientX - from) / step);
        block.setAttribute("transform", `translate(${(units * step) / scale} 0)`);
      };
      const drop = () => {
        block.removeEventListener("pointermove", move);
        done(block, units);
      };
      block.addEventListener("pointermove", move);
      block.addEventListener("pointerup", drop, { once: true });
      event.preventDefault();
    });
  }
};
