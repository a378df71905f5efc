// Marks on a photograph: a click sets the chosen mark, a drag or the arrows move one, a loupe stands
// beside the finger.  The pixels stand in ordinary fields; whatever is done here is typed there.
(() => {
  const LOUPE = 6, GRAB_PX = 14;
  let chosen = null;  // {key, place} of the mark in hand
  let active = "";  // the key of what is being marked: it outlasts a swap of the page
  let zoom = 1, moving = false, fresh = false;

  const board = () => document.querySelector("[data-photo]");
  const fieldOf = (key) => document.querySelector(`[name="${CSS.escape(`photo:${key}`)}"]`);
  const radios = () => [...document.querySelectorAll("[data-target]")];
  const target = () => document.querySelector("[data-target]:checked");
  function aim(key) {
    active = key;
    const radio = radios().find((one) => one.value === key);
    if (radio) radio.checked = true;
  }
  const marksIn = (field) =>
    (field.value.match(/-?[\d.]+,-?[\d.]+/g) ?? []).map((pair) => pair.split(",").map(Number));
  const round = (value) => Math.round(value * 10) / 10;

  function write(field, marks, { done = true } = {}) {
    field.value = marks.map(([x, y]) => `${round(x)},${round(y)}`).join(" ");
    field.dispatchEvent(new Event("input", { bubbles: true }));
    if (done) field.dispatchEvent(new Event("change", { bubbles: true }));
  }

  function pixel(event) {
    const there = board(), box = there.querySelector("img").getBoundingClientRect();
    const { width, height } = there.dataset;
    return [
      Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) * width,
      Math.min(Math.max((event.clientY - box.top) / box.height, 0), 1) * height,
    ];
  }

  // The mark of what is being marked that is under the hand: axes run through other marks.
  function near(event) {
    const radio = target(), field = radio && fieldOf(radio.value);
    if (!field) return null;
    const scale = board().dataset.width / board().querySelector("img").getBoundingClientRect().width;
    const [x, y] = pixel(event);
    const apart = marksIn(field).map(([mx, my]) => Math.hypot(mx - x, my - y));
    const place = apart.indexOf(Math.min(...apart));
    return place >= 0 && apart[place] < GRAB_PX * scale ? { key: radio.value, place } : null;
  }

  function choose(mark) {
    chosen = mark;
    if (mark) aim(mark.key);
    const says = document.querySelector("[data-chosen]");
    if (says) says.textContent = mark ? `${mark.key.replace(/[._]/g, " ")}, mark ${mark.place + 1}` : "";
    for (const path of document.querySelectorAll("[data-mark]")) {
      path.classList.toggle("chosen", !!mark && path.dataset.mark === mark.key && +path.dataset.place === mark.place);
    }
  }

  function put(mark, at, options) {
    const field = fieldOf(mark.key), marks = marksIn(field);
    marks[mark.place] = at;
    write(field, marks, options);
    draw(mark, at);
  }

  function draw(mark, [x, y]) {
    const path = [...document.querySelectorAll("[data-mark]")]
      .find((one) => one.dataset.mark === mark.key && +one.dataset.place === mark.place);
    const arm = board().dataset.width / 160;
    path?.setAttribute("d", `M${x - arm} ${y}h${2 * arm}M${x} ${y - arm}v${2 * arm}`);
  }

  function loupe([x, y], event) {
    const glass = document.querySelector("[data-loupe]"), picture = board().querySelector("img");
    const size = glass.width, half = size / 2 / LOUPE, pen = glass.getContext("2d");
    const scale = picture.naturalWidth / board().dataset.width;
    pen.fillRect(0, 0, size, size);
    pen.drawImage(picture, (x - half) * scale, (y - half) * scale, 2 * half * scale, 2 * half * scale, 0, 0, size, size);
    pen.strokeStyle = "#a5281b";
    pen.beginPath();
    pen.moveTo(size / 2, 0); pen.lineTo(size / 2, size);
    pen.moveTo(0, size / 2); pen.lineTo(size, size / 2);
    pen.stroke();
    glass.hidden = false;
    const stage = glass.parentElement.getBoundingClientRect();
    const left = event.clientX - stage.left > stage.width / 2;
    glass.classList.toggle("left", left);
  }

  document.addEventListener("pointerdown", (event) => {
    if (!event.target.closest?.("[data-photo]") || event.button) return;
    event.preventDefault();
    board().focus({ preventScroll: true });
    const at = pixel(event), caught = near(event), radio = target();
    fresh = !caught;
    if (caught) choose(caught);
    else if (radio) {
      const field = fieldOf(radio.value), count = marksIn(field).length;
      const place = count < +radio.dataset.most ? count : +radio.dataset.most - 1;
      choose({ key: radio.value, place });
      put(chosen, at, { done: false });
    }
    moving = !!chosen;
    if (!moving) return;
    board().dataset.held = "";
    loupe(at, event);
  });
  document.addEventListener("pointermove", (event) => {
    if (!moving) return;
    const at = pixel(event);
    put(chosen, at, { done: false });
    loupe(at, event);
  });
  for (const end of ["pointerup", "pointercancel"]) {
    document.addEventListener(end, () => {
      if (!moving) return;
      moving = false;
      delete board().dataset.held;
      document.querySelector("[data-loupe]").hidden = true;
      fieldOf(chosen.key).dispatchEvent(new Event("change", { bubbles: true }));
      if (fresh) onward();
      document.dispatchEvent(new Event("letgo"));
    });
  }

  // What takes one mark has it: on to what is still to be marked, in the order of the machine.
  function onward() {
    const radio = target();
    if (!radio || +radio.dataset.most > 1) return;
    const next = radios().slice(radios().indexOf(radio) + 1)
      .find((one) => !marksIn(fieldOf(one.value) ?? { value: "" }).length);
    if (next) aim(next.value);
  }

  const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  document.addEventListener("keydown", (event) => {
    if (document.activeElement !== board() || !board()) return;
    if (event.key === "Tab" || !chosen) {
      if (event.key !== "Enter" || !target()) return;
      const field = fieldOf(target().value), marks = marksIn(field);
      const { width, height } = board().dataset;
      choose({ key: target().value, place: Math.min(marks.length, +target().dataset.most - 1) });
      put(chosen, [width / 2, height / 2]);
      event.preventDefault();
      return;
    }
    const way = ARROWS[event.key];
    if (way) {
      const step = event.shiftKey ? 0.1 : event.altKey ? 10 : 1;
      const [x, y] = marksIn(fieldOf(chosen.key))[chosen.place] ?? [0, 0];
      put(chosen, [x + way[0] * step, y + way[1] * step]);
      event.preventDefault();
    } else if (event.key === "Delete" || event.key === "Backspace") {
      remove();
      event.preventDefault();
    }
  });

  function remove() {
    if (!chosen) return;
    const field = fieldOf(chosen.key);
    write(field, marksIn(field).filter((_, place) => place !== chosen.place));
    choose(null);
  }

  document.addEventListener("click", (event) => {
    if (event.target.closest?.("[data-remove-mark]")) remove();
    const way = event.target.closest?.("[data-zoom]")?.dataset.zoom;
    if (!way) return;
    zoom = Math.min(Math.max(way === "in" ? zoom * 1.5 : zoom / 1.5, 1), 6);
    show();
  });
  function show() {
    const stage = board();
    if (!stage) return;
    stage.classList.toggle("zoomed", zoom > 1);
    stage.querySelectorAll("img, svg").forEach((one) => { one.style.width = `${zoom * 100}%`; });
  }
  document.addEventListener("change", (event) => {
    if (event.target.matches?.("[data-target]")) { active = event.target.value; choose(null); }
  });
  document.addEventListener("htmx:afterSwap", () => {
    show();
    const kept = active;
    const field = chosen && fieldOf(chosen.key), at = field && marksIn(field)[chosen.place];
    if (at) draw(chosen, at);  // an answer may be older than what was typed since
    choose(chosen);
    if (kept) aim(kept);
  });
})();
