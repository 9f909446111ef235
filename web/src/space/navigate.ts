import {
  Box3,
  OrthographicCamera,
  PerspectiveCamera,
  Quaternion,
  Vector3,
  type Camera,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';

/** From where one looks: freely, along an axis, or through a camera. */
export type Look = 'free' | 'front' | 'side' | 'top' | 'through';

/** A place and a direction in the world. */
export type ViewPose = { position: Vector3; rotation: Quaternion };

/** What a camera of the scene sees. */
export type Through = ViewPose & {
  perspective: boolean;
  /** Radians, or half the height in metres. */
  view: number;
};

const AXES: Record<'front' | 'side' | 'top', Vector3> = {
  front: new Vector3(0, 0, 1),
  side: new Vector3(1, 0, 0),
  top: new Vector3(0, 1, 0),
};

/** Share of the well that a camera's picture takes. */
export const GATE = 0.9;

/** Vertical angle of a free view, degrees. */
const ANGLE = 40;

/**
 * Returns how large the picture of a camera is within a well.
 *
 * @param aspect of the picture
 */
export function gateOf(width: number, height: number, aspect: number) {
  const h = GATE * Math.min(height, width / aspect);
  return { width: h * aspect, height: h };
}

/** Who hears of a view. */
type Hears = {
  /** Another camera is looked with. */
  camera: (c: Camera) => void;
  change: () => void;
  moving: (now: boolean) => void;
  /** The view has left the camera that it looked through. */
  left: () => void;
};

const NOBODY: Hears = {
  camera: () => undefined,
  change: () => undefined,
  moving: () => undefined,
  left: () => undefined,
};

/** Moves a view about: orbit, shift, nearer and farther. */
export class Navigator {
  camera: PerspectiveCamera | OrthographicCamera;
  private controls: OrbitControls;
  private width = 1;
  private height = 1;
  private look: Look = 'free';
  private aspect = 16 / 9;
  private through: Through | undefined;
  /** How far away what is orbited is, where a camera is looked through. */
  private ahead = 10;

  private on: Hears = NOBODY;

  constructor(private readonly canvas: HTMLElement) {
    this.camera = new PerspectiveCamera(ANGLE, 1, 0.01, 1e5);
    this.camera.position.set(6, 4, 10);
    this.controls = this.controlled();
  }

  private controlled() {
    const c = new OrbitControls(this.camera, this.canvas);
    c.enableDamping = false;
    c.screenSpacePanning = true;
    c.enableRotate = !(this.look in AXES);
    if (!c.enableRotate) {
      c.mouseButtons.LEFT = 2; // Shifts.
    }
    c.addEventListener('change', () => this.on.change());
    let wait: ReturnType<typeof setTimeout>;
    const start = () => {
      clearTimeout(wait);
      this.on.moving(true);
    };
    const end = () => {
      clearTimeout(wait);
      wait = setTimeout(() => this.on.moving(false), 160);
      if (this.look === 'through') {
        this.on.left();
      }
    };
    c.addEventListener('start', start);
    c.addEventListener('end', end);
    return c;
  }

  /** Has somebody hear of it, from the camera of now on. */
  listen(on: Hears) {
    this.on = on;
    on.camera(this.camera);
  }

  /** Stays where it is while the pointer moves something else. */
  hold(now: boolean) {
    this.controls.enabled = !now;
  }

  size(width: number, height: number) {
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.fit();
  }

  private fit() {
    const c = this.camera;
    const shape = this.width / this.height;
    if (c instanceof PerspectiveCamera) {
      c.aspect = shape;
      if (this.look === 'through' && this.through) {
        const gate = gateOf(this.width, this.height, this.aspect).height;
        const half = (Math.tan(this.through.view / 2) * this.height) / gate;
        c.fov = (2 * Math.atan(half) * 180) / Math.PI;
      } else {
        c.fov = ANGLE;
      }
    } else {
      let half = (c.top - c.bottom) / 2;
      if (this.look === 'through' && this.through) {
        const gate = gateOf(this.width, this.height, this.aspect).height;
        half = (this.through.view * this.height) / gate;
      }
      c.top = half;
      c.bottom = -half;
      c.left = -half * shape;
      c.right = half * shape;
    }
    c.updateProjectionMatrix();
    this.on.change();
  }

  private take(camera: PerspectiveCamera | OrthographicCamera, target: Vector3) {
    this.controls.dispose();
    this.camera = camera;
    this.controls = this.controlled();
    this.controls.target.copy(target);
    this.on.camera(camera);
  }

  /** Looks from somewhere else at the same point. */
  from(look: Look) {
    if (look === this.look) {
      return;
    }
    const target = this.controls.target.clone();
    const distance = Math.max(0.01, this.camera.position.distanceTo(target));
    const direction = this.camera.getWorldDirection(new Vector3());
    this.look = look;
    if (look === 'front' || look === 'side' || look === 'top') {
      const half = distance * Math.tan((ANGLE * Math.PI) / 360);
      const c = new OrthographicCamera(-half, half, half, -half, -1e5, 1e5);
      c.position.copy(target).addScaledVector(AXES[look], distance);
      c.up.set(0, look === 'top' ? 0 : 1, look === 'top' ? -1 : 0);
      c.lookAt(target);
      this.take(c, target);
    } else if (look === 'free') {
      const c = new PerspectiveCamera(ANGLE, 1, 0.01, 1e5);
      c.position.copy(target).addScaledVector(direction, -distance);
      if (Math.abs(direction.y) > 0.999) {
        c.position.z += 0.05 * distance;
      }
      this.take(c, target);
    }
    this.fit();
  }

  /** Looks as a camera of the scene does; `aspect` is that of its picture. */
  lookThrough(through: Through, aspect: number) {
    const same =
      this.look === 'through' && this.camera instanceof PerspectiveCamera === through.perspective;
    if (this.look !== 'through') {
      this.ahead = Math.max(0.5, this.camera.position.distanceTo(this.controls.target));
    }
    this.look = 'through';
    this.through = through;
    this.aspect = aspect;
    const ahead = new Vector3(0, 0, -this.ahead).applyQuaternion(through.rotation);
    const target = through.position.clone().add(ahead);
    if (!same) {
      this.take(
        through.perspective
          ? new PerspectiveCamera(ANGLE, 1, 0.01, 1e5)
          : new OrthographicCamera(-1, 1, 1, -1, 0, 1e5),
        target,
      );
    }
    // The controls keep upright what they move; a camera that lies on its side is shown so.
    this.camera.up.set(0, 1, 0);
    this.camera.position.copy(through.position);
    this.controls.target.copy(target);
    this.camera.quaternion.copy(through.rotation);
    this.fit();
  }

  /** What is orbited lies so far ahead of a camera that is looked through. */
  orbitAt(metres: number) {
    this.ahead = Math.max(0.1, metres);
  }

  /** Brings a box into sight. */
  frame(box: Box3) {
    if (box.isEmpty() || this.look === 'through') {
      return;
    }
    const centre = box.getCenter(new Vector3());
    const radius = Math.max(1e-3, box.getSize(new Vector3()).length() / 2);
    const direction = this.camera.position.clone().sub(this.controls.target).normalize();
    const c = this.camera;
    const shape = Math.min(1, this.width / this.height);
    if (c instanceof PerspectiveCamera) {
      const distance = radius / Math.sin((ANGLE * Math.PI) / 360) / shape;
      c.position.copy(centre).addScaledVector(direction, distance);
      c.near = distance / 2000;
      c.far = distance * 200;
    } else {
      c.position.copy(centre).addScaledVector(direction, 4 * radius);
      c.top = radius / shape;
      c.bottom = -radius / shape;
      c.zoom = 1;
    }
    this.controls.target.copy(centre);
    this.controls.update();
    this.fit();
  }

  /** Returns where the view is. */
  pose(): ViewPose {
    this.camera.updateMatrixWorld();
    return {
      position: this.camera.getWorldPosition(new Vector3()),
      rotation: this.camera.getWorldQuaternion(new Quaternion()),
    };
  }

  /** Returns the view's own angle of view in degrees, or its height in metres. */
  view(): { orthographic: boolean; view: number } {
    const c = this.camera;
    return c instanceof PerspectiveCamera
      ? { orthographic: false, view: c.fov }
      : { orthographic: true, view: (c.top - c.bottom) / c.zoom };
  }

  close() {
    this.controls.dispose();
  }
}
