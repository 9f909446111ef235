// encode.js FILE METHOD BITS OUT: compresses a mesh for tests. FILE holds indices and attributes as JSON;
// BITS of 0 keep all floats as they are.
const fs = require('fs');
const { createEncoderModule } = require('draco3d');

async function main([file, method, bits, out]) {
  const draco = await createEncoderModule({});
  const { indices, attributes } = JSON.parse(fs.readFileSync(file, 'utf8'));
  const builder = new draco.MeshBuilder();
  const mesh = new draco.Mesh();
  builder.AddFacesToMesh(mesh, indices.length / 3, new Uint32Array(indices));
  const encoder = new draco.Encoder();
  encoder.SetEncodingMethod(draco[method]);
  for (const { kind, components, type, data } of attributes) {
    const array = type === 'Float' ? new Float32Array(data) : new Uint8Array(data);
    const count = data.length / components;
    builder[`Add${type}Attribute`](mesh, draco[kind], count, components, array);
    encoder.SetAttributeQuantization(draco[kind], Number(bits));
  }
  const packed = new draco.DracoInt8Array();
  const length = encoder.EncodeMeshToDracoBuffer(mesh, packed);
  const bytes = Int8Array.from({ length }, (_, i) => packed.GetValue(i));
  fs.writeFileSync(out, bytes);
}

main(process.argv.slice(2));
