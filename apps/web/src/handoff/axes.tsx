/** The axes of a convention as a small picture that turns as it is dragged: the way ahead, to the right and up. */
import { lookingPose, rotate, type Vec3 } from '@foreshore/core';
import type { Convention } from '@foreshore/document';
import { useState } from 'react';

const SIZE = 168;
const LENGTH = 52;

/** Where their axes lie in our world: to the right is our x, up our y, ahead our −z. */
function axesOf({ right, up, forward }: Convention): { name: string; way: Vec3; role: string }[] {
  const roles: [string, string, Vec3][] = [
    [right, 'to the right', [1, 0, 0]],
    [up, 'up', [0, 1, 0]],
    [forward, 'ahead', [0, 0, -1]],
  ];
  return roles.map(([axis, role, way]) => ({
    name: axis.slice(1).toUpperCase(),
    way: (axis.startsWith('-') ? way.map((v) => -v) : way) as Vec3,
    role: `${axis} is ${role}`,
  }));
}

export function Axes({ convention }: { convention: Convention }) {
  const [turn, setTurn] = useState({ yaw: 38, pitch: -26 });
  const seen = (way: Vec3): Vec3 => {
    // Seen by somebody who looks at the middle from there: the world turned the other way round.
    const [x, y, z, w] = lookingPose([0, 0, 0], turn.yaw, turn.pitch).rotation;
    return rotate([-x, -y, -z, w], way);
  };
  const axes = axesOf(convention)
    .map((axis) => ({ ...axis, at: seen(axis.way) }))
    // The farthest first.
    .sort((a, b) => a.at[2] - b.at[2]);
  const middle = SIZE / 2;
  // Somebody who stands in the middle and looks ahead.
  const ahead = seen([0, 0, -1]);
  return (
    <svg
      className="axes"
      width={SIZE}
      height={SIZE}
      role="img"
      aria-label={axes.map(({ role }) => role).join(', ')}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (event.buttons & 1)
          setTurn(({ yaw, pitch }) => ({ yaw: yaw - event.movementX, pitch: Math.max(-85, Math.min(85, pitch - event.movementY)) }));
      }}
    >
      <title>Drag to turn. The open circle looks ahead.</title>
      <circle className="axes-eye" cx={middle} cy={middle} r={5} />
      <line className="axes-sight" x1={middle} y1={middle} x2={middle + ahead[0] * LENGTH * 0.8} y2={middle - ahead[1] * LENGTH * 0.8} />
      {axes.map(({ name, at }) => {
        const [x, y] = [middle + at[0] * LENGTH, middle - at[1] * LENGTH];
        return (
          <g key={name} className={name === 'X' ? 'axes-x' : name === 'Y' ? 'axes-y' : 'axes-z'}>
            <line x1={middle} y1={middle} x2={x} y2={y} />
            <circle cx={x} cy={y} r={3.5} />
            <text x={middle + at[0] * (LENGTH + 15)} y={middle - at[1] * (LENGTH + 15) + 5}>
              {name}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
