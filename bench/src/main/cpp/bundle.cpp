// The same bundle problem given to a general least-squares library (Debian's libceres-dev): one shared lens, free focal length and k1.
// In: a file as BundleBench writes it. Out: one line for each way of solving: name, seconds, steps, final cost (sum of squares).
#include <ceres/ceres.h>
#include <ceres/rotation.h>
#include <cstdio>
#include <vector>

struct Reprojection {
  double u, v;
  template <typename T> bool operator()(const T* camera, const T* lens, const T* point, T* residual) const {
    T p[3];
    ceres::AngleAxisRotatePoint(camera, point, p);
    for (int i = 0; i < 3; i++) p[i] += camera[3 + i];
    const T x = p[0] / p[2], y = p[1] / p[2], d = 1.0 + lens[1] * (x * x + y * y);
    residual[0] = lens[0] * d * x - u;
    residual[1] = lens[0] * d * y - v;
    return true;
  }
};

int main(int argc, char** argv) {
  FILE* f = argc > 1 ? fopen(argv[1], "r") : nullptr;
  int cameras, points, count;
  if (!f || fscanf(f, "%d %d %d", &cameras, &points, &count) != 3) return 2;
  std::vector<int> cam(count), pt(count);
  std::vector<double> x(count), y(count), first(6 * cameras + 2 + 3 * points);
  for (int i = 0; i < count; i++) if (fscanf(f, "%d %d %lf %lf", &cam[i], &pt[i], &x[i], &y[i]) != 4) return 2;
  for (double& v : first) if (fscanf(f, "%lf", &v) != 1) return 2;
  fclose(f);
  struct Way { const char* name; ceres::LinearSolverType type; ceres::PreconditionerType with; };
  for (Way way : {Way{"sparse Schur", ceres::SPARSE_SCHUR, ceres::JACOBI}, Way{"dense Schur", ceres::DENSE_SCHUR, ceres::JACOBI}, Way{"iterative Schur", ceres::ITERATIVE_SCHUR, ceres::SCHUR_JACOBI}}) {
    std::vector<double> state = first;
    double *lens = &state[6 * cameras], *points3 = lens + 2;
    ceres::Problem problem;
    auto* order = new ceres::ParameterBlockOrdering;
    for (int i = 0; i < count; i++) {
      problem.AddResidualBlock(new ceres::AutoDiffCostFunction<Reprojection, 2, 6, 2, 3>(new Reprojection{x[i], y[i]}), nullptr, &state[6 * cam[i]], lens, &points3[3 * pt[i]]);
    }
    for (int i = 0; i < points; i++) order->AddElementToGroup(&points3[3 * i], 0);
    for (int i = 0; i < cameras; i++) order->AddElementToGroup(&state[6 * i], 1);
    order->AddElementToGroup(lens, 1);
    ceres::Solver::Options o;
    o.linear_solver_type = way.type;
    o.preconditioner_type = way.with;
    o.linear_solver_ordering.reset(order);
    o.num_threads = 2;
    o.max_num_iterations = 60;
    o.function_tolerance = 1e-6;
    ceres::Solver::Summary s;
    ceres::Solve(o, &problem, &s);
    printf("%s;%.3f;%d;%.4f\n", way.name, s.total_time_in_seconds, (int)s.iterations.size() - 1, 2 * s.final_cost);
    fflush(stdout);
  }
}
