{{-- What is to be told once, after something was added. --}}
@if (session('said'))<p class="note good mx-6 mt-3" role="status">{{ session('said') }}</p>@endif
@if (is_array(session('mends')) && session('mends') !== [])<div
    class="note mx-6 mt-3" role="status">@foreach (session('mends') as $one)<p>{{ $one['what'] }}</p>@endforeach</div>@endif
