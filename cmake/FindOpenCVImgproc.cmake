# Debian's split packages bring headers and libraries but no OpenCVConfig.cmake (that one
# needs libopencv-dev, 369 MB). This finds opencv_core and opencv_imgproc alone.
find_path(OpenCVImgproc_INCLUDE_DIR opencv2/imgproc.hpp PATH_SUFFIXES opencv4)
find_library(OpenCVImgproc_CORE opencv_core)
find_library(OpenCVImgproc_IMGPROC opencv_imgproc)
include(FindPackageHandleStandardArgs)
find_package_handle_standard_args(OpenCVImgproc REQUIRED_VARS OpenCVImgproc_IMGPROC OpenCVImgproc_CORE OpenCVImgproc_INCLUDE_DIR)
if(OpenCVImgproc_FOUND AND NOT TARGET OpenCV::imgproc)
  add_library(OpenCV::imgproc INTERFACE IMPORTED)
  set_target_properties(OpenCV::imgproc PROPERTIES
    INTERFACE_INCLUDE_DIRECTORIES "${OpenCVImgproc_INCLUDE_DIR}"
    INTERFACE_LINK_LIBRARIES "${OpenCVImgproc_IMGPROC};${OpenCVImgproc_CORE}")
endif()
