# OpenCV as a reference in tests and benchmarks: core and imgproc alone. OpenCVConfig.cmake comes only with the package of all
# its modules, which brings hundreds of others.
include_guard(GLOBAL)
find_path(OPENCV_HEADERS opencv2/imgproc.hpp PATH_SUFFIXES opencv4 REQUIRED)
find_library(OPENCV_CORE opencv_core REQUIRED)
find_library(OPENCV_IMGPROC opencv_imgproc REQUIRED)
add_library(keen_loom_opencv INTERFACE)
target_include_directories(keen_loom_opencv SYSTEM INTERFACE ${OPENCV_HEADERS})
target_link_libraries(keen_loom_opencv INTERFACE ${OPENCV_IMGPROC} ${OPENCV_CORE})
