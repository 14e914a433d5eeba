import { Group, Mesh, MeshBasicMaterial, OrthographicCamera, PlaneGeometry, Scene, WebGLRenderer } from 'three';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures/kinds';
import type { Figure } from '../../core/show/types';
import { DialFigure } from './figures/dial';
import { Places, type Drawn } from './figures/drawn';
import { GroundFigure } from './figures/ground';
import { LanternsFigure } from './figures/lanterns';
import { MeterFigure } from './figures/meter';
import { PrintFigure } from './figures/print';
import { StarsFigure } from './figures/stars';
import { WavesFigure } from './figures/waves';

function draw(figure: Figure, places: Places): Drawn {
  const { form } = figure;
  switch (form.kind) {
    case 'ground': return new GroundFigure(figure, places);
    case 'print': return new PrintFigure(form.form, figure, places);
    case 'waves': return new WavesFigure(form.rows, figure, places);
    case 'lanterns': return new LanternsFigure(form.count, form.width, figure, places);
    case 'stars': return new StarsFigure(form.count, figure, places);
    case 'dial': return new DialFigure(form.marks, figure, places);
    case 'meter': return new MeterFigure(form.segments, form.upright, figure, places);
  }
}

/** The picture as a scene: one object a figure, back to front, and the dark above all. */
export class PictureScene {
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera(0, PICTURE_WIDTH, PICTURE_HEIGHT, 0, -10, 10);
  readonly #curtain = new Mesh(new PlaneGeometry(PICTURE_WIDTH * 2, PICTURE_HEIGHT * 2), new MeshBasicMaterial({ color: 0, transparent: true, depthTest: false }));
  readonly #front = new Group();
  #drawn = new Map<string, { form: string; drawn: Drawn }>();
  #list: Drawn[] = [];

  constructor() {
    this.#front.add(this.#curtain);
    this.#curtain.position.set(PICTURE_WIDTH / 2, PICTURE_HEIGHT / 2, 0);
  }

  /** Takes the figures as they are now. What kept its form is placed anew; only new forms are made. */
  set(figures: readonly Figure[], parameters: Readonly<Record<string, number>>): void {
    const before = this.#drawn;
    this.#drawn = new Map();
    this.#scene.clear();
    this.#list = [];
    for (const figure of figures) {
      const places = new Places(figure.id, parameters);
      const form = JSON.stringify(figure.form);
      const old = before.get(figure.id);
      let drawn: Drawn;
      if (old && old.form === form) { drawn = old.drawn; drawn.place(figure, places); before.delete(figure.id); }
      else drawn = draw(figure, places);
      this.#drawn.set(figure.id, { form, drawn });
      if (figure.hidden) continue;
      // Figures lie one upon the other like sheets of paper: order, not depth. It is the groups that are ordered.
      drawn.object.renderOrder = this.#list.length;
      this.#list.push(drawn);
      if (!figure.twin?.mirrored) { this.#scene.add(drawn.object); continue; }
      // A mirrored twin is turned over about its own anchor, movement and all.
      const mirror = new Group();
      mirror.scale.x = -1;
      mirror.position.x = 2 * figure.at.x;
      mirror.add(drawn.object);
      this.#scene.add(mirror);
    }
    for (const { drawn } of before.values()) drawn.dispose();
    this.#front.renderOrder = this.#list.length;
    this.#scene.add(this.#front);
  }

  render(renderer: WebGLRenderer, values: Float32Array, time: number, darkness: number): void {
    if (darkness < 1) for (let i = 0; i < this.#list.length; i++) this.#list[i]!.update(values, time);
    this.#curtain.visible = darkness > 0;
    (this.#curtain.material as MeshBasicMaterial).opacity = darkness;
    renderer.render(this.#scene, this.#camera);
  }

  dispose(): void {
    for (const { drawn } of this.#drawn.values()) drawn.dispose();
    this.#drawn.clear();
  }
}
