// rays FOLDER: the rays that the bench of this application casts, cast by Embree: single rays, one thread.
// Reads FOLDER/{vertices,index}.bin and {primary,bounce,shadow}.bin (eight floats a ray: origin, 0, direction, far).
#include <embree3/rtcore.h>
#include <pmmintrin.h>
#include <xmmintrin.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstring>
#include <string>
#include <vector>

template <class T>
static std::vector<T> read(const std::string& path) {
  FILE* f = fopen(path.c_str(), "rb");
  if (!f) { perror(path.c_str()); exit(1); }
  fseek(f, 0, SEEK_END);
  std::vector<T> out(ftell(f) / sizeof(T));
  rewind(f);
  if (fread(out.data(), sizeof(T), out.size(), f) != out.size()) exit(1);
  fclose(f);
  return out;
}

static double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

static RTCScene build(RTCDevice d, const std::vector<float>& v, const std::vector<unsigned>& i) {
  RTCScene s = rtcNewScene(d);
  RTCGeometry g = rtcNewGeometry(d, RTC_GEOMETRY_TYPE_TRIANGLE);
  memcpy(rtcSetNewGeometryBuffer(g, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, v.size() / 3), v.data(),
         v.size() * 4);
  memcpy(rtcSetNewGeometryBuffer(g, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, i.size() / 3), i.data(),
         i.size() * 4);
  rtcCommitGeometry(g);
  rtcAttachGeometry(s, g);
  rtcReleaseGeometry(g);
  rtcCommitScene(s);
  return s;
}

int main(int argc, char** argv) {
  if (argc != 2) return 2;
  std::string dir = std::string(argv[1]) + "/";
  _MM_SET_FLUSH_ZERO_MODE(_MM_FLUSH_ZERO_ON);
  _MM_SET_DENORMALS_ZERO_MODE(_MM_DENORMALS_ZERO_ON);
  auto v = read<float>(dir + "vertices.bin");
  auto index = read<unsigned>(dir + "index.bin");
  RTCScene scene = nullptr;
  for (int threads = 2; threads >= 1; threads--) {
    RTCDevice d = rtcNewDevice(("threads=" + std::to_string(threads)).c_str());
    double best = 1e9;
    for (int k = 0; k < 5; k++) {
      if (scene) rtcReleaseScene(scene);
      double t = now();
      scene = build(d, v, index);
      best = std::min(best, now() - t);
    }
    printf("build%d %.4f 0\n", threads, best);
    if (threads > 1) { rtcReleaseScene(scene); scene = nullptr; rtcReleaseDevice(d); }
  }
  for (const char* set : {"primary", "bounce", "shadow"}) {
    auto r = read<float>(dir + set + ".bin");
    long n = r.size() / 8, hits = 0;
    double best = 1e9;
    RTCIntersectContext c;
    rtcInitIntersectContext(&c);
    for (int k = 0; k < 5; k++) {
      hits = 0;
      double t = now();
      for (long i = 0; i < n; i++) {
        const float* q = &r[8 * i];
        RTCRayHit h;
        h.ray.org_x = q[0]; h.ray.org_y = q[1]; h.ray.org_z = q[2]; h.ray.tnear = 0;
        h.ray.dir_x = q[4]; h.ray.dir_y = q[5]; h.ray.dir_z = q[6]; h.ray.tfar = q[7];
        h.ray.time = 0; h.ray.mask = -1; h.ray.id = 0; h.ray.flags = 0;
        h.hit.geomID = h.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
        if (set[0] == 's') {
          rtcOccluded1(scene, &c, &h.ray);
          hits += h.ray.tfar < 0;
        } else {
          rtcIntersect1(scene, &c, &h);
          hits += h.hit.geomID != RTC_INVALID_GEOMETRY_ID;
        }
      }
      best = std::min(best, now() - t);
    }
    printf("%s %.4f %ld\n", set, n / best / 1e6, hits);
  }
}
