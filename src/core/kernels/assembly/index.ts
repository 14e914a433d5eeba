/**
 * Inner loops of the listening, two or four numbers at a time. This is AssemblyScript: `npm run kernels` compiles it into
 * `compiled.ts`. Everything is given by address; nothing is kept between two calls.
 */

// @ts-ignore: decorator
@inline function add(a: v128, b: v128): v128 { return f64x2.add(a, b); }
// @ts-ignore: decorator
@inline function sub(a: v128, b: v128): v128 { return f64x2.sub(a, b); }
// @ts-ignore: decorator
@inline function mul(a: v128, b: v128): v128 { return f64x2.mul(a, b); }
// @ts-ignore: decorator
@inline function swapped(a: v128): v128 { return v128.shuffle<f64>(a, a, 1, 0); }
/** Values under 1e-30 are far below hearing and would turn denormal, which is slow. */
// @ts-ignore: decorator
@inline function tidy(a: v128): v128 { return v128.and(a, f64x2.ge(f64x2.abs(a), f64x2.splat(1e-30))); }

/** First address that is free for whoever calls. */
export function base(): usize { return __heap_base; }

/**
 * `out[row] = bias[row] + Σ weights[row][k] x[k]`, all in 32 bits.
 * @param weights - sixteen rows side by side: `k` after `k`, then the next sixteen @param count - of rows, a multiple of 16
 */
export function rows(weights: usize, bias: usize, x: usize, out: usize, count: i32, width: i32): void {
  const end = x + (<usize>width << 2);
  for (let row = 0; row < count; row += 16) {
    let a = v128.load(bias), b = v128.load(bias, 16), c = v128.load(bias, 32), d = v128.load(bias, 48);
    for (let at = x; at < end; at += 4) {
      const v = v128.load32_splat(at);
      a = f32x4.add(a, f32x4.mul(v128.load(weights), v));
      b = f32x4.add(b, f32x4.mul(v128.load(weights, 16), v));
      c = f32x4.add(c, f32x4.mul(v128.load(weights, 32), v));
      d = f32x4.add(d, f32x4.mul(v128.load(weights, 48), v));
      weights += 64;
    }
    v128.store(out, a);
    v128.store(out, b, 16);
    v128.store(out, c, 32);
    v128.store(out, d, 48);
    bias += 64;
    out += 64;
  }
}

/**
 * Discrete Fourier transform of `n` complex numbers, real and imaginary part in turn, by Stockham's sorting steps of four.
 * @param x - what goes in, spoilt @param y - as much room again @param turns - `exp(−2πi k / n)` for k under n @returns where the transform lies: `x` or `y`
 */
export function transform(x: usize, y: usize, turns: usize, n: i32): usize {
  const minusFirst = f64x2(-0.0, 0.0);
  let length = n, stride = 1;
  for (; length >= 4; length >>= 2, stride <<= 2) {
    const quarter = length >> 2, apart = <usize>(stride * quarter) << 4, out = <usize>stride << 4;
    for (let p = 0; p < quarter; p++) {
      let from = x + (<usize>(stride * p) << 4), to = y + (<usize>(stride * p) << 6);
      const end = from + out;
      if (p === 0) {
        for (; from < end; from += 16, to += 16) {
          const a = v128.load(from), b = v128.load(from + apart), c = v128.load(from + 2 * apart), d = v128.load(from + 3 * apart);
          const ac = add(a, c), amc = sub(a, c), bd = add(b, d), jbd = v128.xor(swapped(sub(b, d)), minusFirst);
          v128.store(to, add(ac, bd));
          v128.store(to + out, sub(amc, jbd));
          v128.store(to + 2 * out, sub(ac, bd));
          v128.store(to + 3 * out, add(amc, jbd));
        }
        continue;
      }
      const one = <usize>(p * stride) << 4;
      const r1 = v128.load64_splat(turns + one), i1 = v128.xor(v128.load64_splat(turns + one, 8), minusFirst);
      const r2 = v128.load64_splat(turns + 2 * one), i2 = v128.xor(v128.load64_splat(turns + 2 * one, 8), minusFirst);
      const r3 = v128.load64_splat(turns + 3 * one), i3 = v128.xor(v128.load64_splat(turns + 3 * one, 8), minusFirst);
      for (; from < end; from += 16, to += 16) {
        const a = v128.load(from), b = v128.load(from + apart), c = v128.load(from + 2 * apart), d = v128.load(from + 3 * apart);
        const ac = add(a, c), amc = sub(a, c), bd = add(b, d), jbd = v128.xor(swapped(sub(b, d)), minusFirst);
        const u = sub(amc, jbd), v = sub(ac, bd), w = add(amc, jbd);
        v128.store(to, add(ac, bd));
        v128.store(to + out, add(mul(u, r1), mul(swapped(u), i1)));
        v128.store(to + 2 * out, add(mul(v, r2), mul(swapped(v), i2)));
        v128.store(to + 3 * out, add(mul(w, r3), mul(swapped(w), i3)));
      }
    }
    const other = x;
    x = y;
    y = other;
  }
  if (length === 2) {
    const apart = <usize>stride << 4;
    for (let from = x, to = y, end = x + apart; from < end; from += 16, to += 16) {
      const a = v128.load(from), b = v128.load(from + apart);
      v128.store(to, add(a, b));
      v128.store(to + apart, sub(a, b));
    }
    return y;
  }
  return x;
}

/**
 * Adds a stretch of two channels, thinned, to a ring of `size` pairs.
 * @param x - pairs, with `margin` pairs of quiet before and after @param half - taps from outermost to middle, `middle` + 1 of them @param first @param last - which outputs
 */
export function thin(x: usize, margin: i32, half: usize, middle: i32, every: i32, first: i32, last: i32, out: usize, size: i32): void {
  const apart = <usize>every << 4;
  // Two at a time share each tap; the one after the last hears quiet alone.
  for (let m = first; m <= last; m += 2) {
    const at = x + (<usize>(margin + m * every) << 4), centre = v128.load64_splat(half + (<usize>middle << 3));
    let y = mul(centre, v128.load(at)), z = mul(centre, v128.load(at + apart));
    let a = at - (<usize>middle << 4), b = at + (<usize>middle << 4);
    for (let tap = half; a < at; tap += 8, a += 16, b -= 16) {
      const h = v128.load64_splat(tap);
      y = add(y, mul(h, add(v128.load(a), v128.load(b))));
      z = add(z, mul(h, add(v128.load(a + apart), v128.load(b + apart))));
    }
    const to = out + (<usize>((m + size) % size) << 4), next = out + (<usize>((m + 1 + size) % size) << 4);
    v128.store(to, add(v128.load(to), y));
    v128.store(next, add(v128.load(next), z));
  }
}

/**
 * Energy of one range of two channels, step by step; see `bandFilter.ts`.
 * @param block - numbers of 64 bits: poles of two low-pass sections (a1 a2, twice), of two high-pass sections, the oscillator's turn (cos, sin), the DC remover's
 * pole, the oscillator now (re, im), one unused, then what is remembered, in pairs: DC remover 2, high-pass 4, low-pass of the left 4 and of the right 4
 * @param left @param right - 32 bits a frame @param guarded - 1 to run the high-pass @param out - gets each step's sum of squares by its length
 */
export function band(block: usize, left: usize, right: usize, frames: i32, step: i32, guarded: i32, out: usize): void {
  const a01 = v128.load64_splat(block), a02 = v128.load64_splat(block, 8), a11 = v128.load64_splat(block, 16), a12 = v128.load64_splat(block, 24);
  const k01 = v128.load64_splat(block, 32), k02 = v128.load64_splat(block, 40), k11 = v128.load64_splat(block, 48), k12 = v128.load64_splat(block, 56);
  const c = v128.load64_splat(block, 64), s = v128.xor(v128.load64_splat(block, 72), f64x2(-0.0, 0.0)), pole = v128.load64_splat(block, 80), zero = f64x2.splat(0);
  let turn = v128.load(block, 88);
  const kept = block + 112;
  let dcIn = v128.load(kept), dcOut = v128.load(kept, 16);
  let g0 = v128.load(kept, 32), g1 = v128.load(kept, 48), g2 = v128.load(kept, 64), g3 = v128.load(kept, 80);
  let p0 = v128.load(kept, 96), p1 = v128.load(kept, 112), q0 = v128.load(kept, 128), q1 = v128.load(kept, 144);
  let r0 = v128.load(kept, 160), r1 = v128.load(kept, 176), s0 = v128.load(kept, 192), s1 = v128.load(kept, 208);
  for (let at = 0; at < frames;) {
    const end = min(frames, at + step), length = end - at;
    let sum = zero;
    // A Butterworth low-pass has the numerator b₀ (1, 2, 1), a high-pass b₀ (1, −2, 1).
    for (; at < end; at++) {
      let x = f64x2.replace_lane(f64x2.splat(<f64>load<f32>(left + (<usize>at << 2))), 1, <f64>load<f32>(right + (<usize>at << 2)));
      x = v128.and(x, f64x2.eq(sub(x, x), zero)); // NaN and infinity count as silence
      dcOut = add(sub(x, dcIn), mul(pole, dcOut));
      dcIn = x;
      let clean = dcOut;
      if (guarded) {
        const t = add(clean, g0);
        g0 = sub(sub(g1, add(clean, clean)), mul(k01, t));
        g1 = sub(clean, mul(k02, t));
        const w = add(t, g2);
        g2 = sub(sub(g3, add(t, t)), mul(k11, w));
        g3 = sub(t, mul(k12, w));
        clean = w;
      }
      const u = mul(v128.shuffle<f64>(clean, clean, 0, 0), turn), v = mul(v128.shuffle<f64>(clean, clean, 1, 1), turn);
      turn = add(mul(turn, c), mul(swapped(turn), s));
      const y0 = add(u, p0);
      p0 = sub(add(add(u, u), p1), mul(a01, y0));
      p1 = sub(u, mul(a02, y0));
      const y1 = add(y0, q0);
      q0 = sub(add(add(y0, y0), q1), mul(a11, y1));
      q1 = sub(y0, mul(a12, y1));
      const w0 = add(v, r0);
      r0 = sub(add(add(v, v), r1), mul(a01, w0));
      r1 = sub(v, mul(a02, w0));
      const w1 = add(w0, s0);
      s0 = sub(add(add(w0, w0), s1), mul(a11, w1));
      s1 = sub(w0, mul(a12, w1));
      sum = add(sum, add(mul(y1, y1), mul(w1, w1)));
    }
    store<f64>(out, (f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1)) / <f64>length);
    out += 8;
  }
  v128.store(kept, dcIn);
  v128.store(kept, tidy(dcOut), 16);
  v128.store(kept, tidy(g0), 32);
  v128.store(kept, tidy(g1), 48);
  v128.store(kept, tidy(g2), 64);
  v128.store(kept, tidy(g3), 80);
  v128.store(kept, tidy(p0), 96);
  v128.store(kept, tidy(p1), 112);
  v128.store(kept, tidy(q0), 128);
  v128.store(kept, tidy(q1), 144);
  v128.store(kept, tidy(r0), 160);
  v128.store(kept, tidy(r1), 176);
  v128.store(kept, tidy(s0), 192);
  v128.store(kept, tidy(s1), 208);
}

/**
 * The greatest magnitude between the samples, or `top` when none is greater.
 * @param x - 32 bits a frame: `taps` frames from before, then `frames` more @param phases - `count` times `taps` taps @param most - nothing between samples is greater than the greatest of them times this
 * @param block - frames that are looked at together and left out when they cannot be greater
 */
export function between(x: usize, frames: i32, phases: usize, count: i32, taps: i32, top: f32, most: f32, block: i32): f32 {
  for (let from = 0; from < frames; from += block) {
    const to = min(frames, from + block), size = <usize>taps << 2;
    let loud = f32x4.splat(0);
    let i = from + 1;
    for (; i + 3 < to + taps; i += 4) loud = f32x4.max(loud, f32x4.abs(v128.load(x + (<usize>i << 2))));
    let loudest = max(max(f32x4.extract_lane(loud, 0), f32x4.extract_lane(loud, 1)), max(f32x4.extract_lane(loud, 2), f32x4.extract_lane(loud, 3)));
    for (; i < to + taps; i++) loudest = max(loudest, abs(load<f32>(x + (<usize>i << 2))));
    if (loudest * most <= top) continue;
    for (let p = 0; p < count; p++) {
      const tap = phases + <usize>p * size;
      let at = from + 1, best = f32x4.splat(0);
      for (; at + 3 <= to; at += 4) {
        let y = f32x4.splat(0), z = y;
        for (let k: usize = 0, sound = x + (<usize>at << 2); k < size; k += 8) {
          y = f32x4.add(y, f32x4.mul(v128.load32_splat(tap + k), v128.load(sound + k)));
          z = f32x4.add(z, f32x4.mul(v128.load32_splat(tap + k, 4), v128.load(sound + k, 4)));
        }
        best = f32x4.max(best, f32x4.abs(f32x4.add(y, z)));
      }
      top = max(top, max(max(f32x4.extract_lane(best, 0), f32x4.extract_lane(best, 1)), max(f32x4.extract_lane(best, 2), f32x4.extract_lane(best, 3))));
      for (; at <= to; at++) {
        let y: f32 = 0;
        for (let k: usize = 0, sound = x + (<usize>at << 2); k < size; k += 4) y += load<f32>(tap + k) * load<f32>(sound + k);
        top = max(top, abs(y));
      }
    }
  }
  return top;
}
