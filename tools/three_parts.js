export {
  BufferAttribute, BufferGeometry, Camera, ClampToEdgeWrapping, DataArrayTexture, DataTexture, DataUtils, DoubleSide, FrontSide, GLSL3,
  HalfFloatType, LinearFilter, LinearSRGBColorSpace, Matrix3, Mesh, NearestFilter, RGBAFormat, RedFormat, Scene,
  ShaderMaterial, ShapeUtils, UnsignedByteType, Vector2, Vector3, Vector4, WebGLRenderer
} from "three";
