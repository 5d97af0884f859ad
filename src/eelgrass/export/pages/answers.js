// What is said first, compared with what comes: Python's literals by their values, not by their spelling.
const answers = (() => {
  "use strict";
  const NAMES = ["True", "False", "None"];
  const ESCAPES = { n: "\n", t: "\t", r: "\r", "\\": "\\", "'": "'", '"': '"' };
  const ENDS = { "[": "]", "(": ")", "{": "}" };
  const WORD = /^(?:[A-Za-z]+|[+-]?(?:\d[\d_]*\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)/;

  // A literal as {type, held}; null for what is none.
  function literal(text) {
    let place = 0;
    const skip = () => { while (/\s/.test(text[place] ?? "")) place += 1; };
    const fail = () => { throw new SyntaxError("no literal"); };

    function value() {
      skip();
      const sign = text[place] ?? fail();
      if (sign === '"' || sign === "'") return quoted(sign);
      if (sign in ENDS) return many(sign);
      if (/^[bB]["']/.test(text.slice(place, place + 2))) {
        place += 1;
        return { ...quoted(text[place]), type: "bytes" };
      }
      const word = (WORD.exec(text.slice(place)) ?? fail())[0];
      place += word.length;
      if (NAMES.includes(word)) return { type: "name", held: word };
      return /\d/.test(word) ? number(word.replaceAll("_", "")) : fail();
    }

    function number(word) {
      if (/[.eE]/.test(word)) return { type: "float", held: Number(word) };
      return /^[+-]?0\d/.test(word) ? fail() : { type: "int", held: String(BigInt(word.replace("+", ""))) };
    }

    function quoted(sign) {
      let held = "";
      for (place += 1; text[place] !== sign; place += 1) {
        if (place >= text.length) fail();
        if (text[place] === "\\") {
          place += 1;
          held += ESCAPES[text[place]] ?? `\\${text[place]}`;
        } else held += text[place];
      }
      place += 1;
      return { type: "text", held };
    }

    function many(sign) {
      const held = [];
      let pairs = false, commas = 0;
      for (place += 1, skip(); text[place] !== ENDS[sign]; skip()) {
        let one = value();
        skip();
        if (sign === "{" && text[place] === ":") {
          place += 1;
          pairs = true;
          one = [one, value()];
          skip();
        }
        held.push(one);
        if (text[place] === ",") { place += 1; commas += 1; } else if (text[place] !== ENDS[sign]) fail();
      }
      place += 1;
      if (sign === "(" && held.length === 1 && commas === 0) return held[0];
      if (sign === "{") return { type: pairs || !held.length ? "dict" : "set", held };
      return { type: sign, held };
    }

    try {
      const told = value();
      skip();
      return place === text.length ? told : null;
    } catch (error) {
      if (error instanceof SyntaxError) return null;
      throw error;
    }
  }

  // Floats but for rounding, as in the window.
  function near(one, other) {
    const apart = Math.abs(one - other);
    return one === other || apart <= Math.max(1e-9 * Math.max(Math.abs(one), Math.abs(other)), 1e-12);
  }

  const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);

  function alike(one, other) {
    if (one.type !== other.type) return false;
    if (one.type === "float") return near(one.held, other.held);
    if (one.type === "dict") {
      return one.held.length === other.held.length && one.held.every(([key, held]) => {
        const there = other.held.find((its) => same(its[0], key));
        return there !== undefined && alike(held, there[1]);
      });
    }
    if (one.type === "set") {
      const isIn = (its, held) => held.some((there) => same(its, there));
      return one.held.every((its) => isIn(its, other.held)) && other.held.every((its) => isIn(its, one.held));
    }
    if (!Array.isArray(one.held)) return one.held === other.held;
    return one.held.length === other.held.length && one.held.every((its, place) => alike(its, other.held[place]));
  }

  const TRUE = ["true", "t", "yes", "y"], FALSE = ["false", "f", "no", "n"];

  // [whether an answer is right, a hint where it is not].
  function judged(kind, expected, given) {
    given = given.trim();
    const small = given.toLowerCase();
    if (kind === "way") {
      const said = TRUE.includes(small) ? "true" : FALSE.includes(small) ? "false" : null;
      return [said === expected, said === null ? "Say true or false." : ""];
    }
    if (kind === "line") return [small.replace(/^line/, "").trim() === expected, ""];
    if (kind === "output") return [given === expected.trim(), ""];
    const wanted = literal(expected), said = literal(given);
    if (wanted === null) return [given === expected.trim(), ""]; // by its spelling, as a complex number
    if (said !== null) return [alike(said, wanted), ""];
    return [false, wanted.type === "text" ? "A text is written with quotation marks around it." : ""];
  }

  return { judged };
})();
